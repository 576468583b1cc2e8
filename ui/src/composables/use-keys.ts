import { useEventListener } from '@vueuse/core';

export type KeyAction = (event: KeyboardEvent) => void;

const TYPING =
  'input:not([type=checkbox], [type=color]), textarea, select, [contenteditable="true"], [role="combobox"]';

const PRESSED = 'button, a, summary, [role="button"]';

/** Name of a key press, such as `Ctrl+Shift+Z`, `[` or `ArrowLeft`. */
export function keyName(event: KeyboardEvent): string {
  const control = event.ctrlKey || event.metaKey ? 'Ctrl+' : '';
  const shift = event.shiftKey && event.key.length > 1 ? 'Shift+' : '';
  if (control) {
    return `Ctrl+${event.shiftKey ? 'Shift+' : ''}${event.key.toUpperCase()}`;
  }
  return shift + (event.key.length === 1 ? event.key.toLowerCase() : event.key);
}

/** A closed dialog may stay in the page without taking any room. */
function dialogOpen(): boolean {
  const dialogs = document.querySelectorAll('[role="dialog"][aria-modal="true"]');
  return [...dialogs].some((dialog) => dialog.getClientRects().length > 0);
}

/** Keys of a screen. Single keys rest while typing, in a dialog, or when switched off. */
export function useKeys(keys: Record<string, KeyAction>, singleKeys: () => boolean): void {
  function listen(event: KeyboardEvent): void {
    if (event.defaultPrevented || event.altKey) return;
    const name = keyName(event);
    const action = keys[name];
    if (!action) return;
    const target = event.target instanceof Element ? event.target : null;
    const typing = target?.closest(TYPING);
    const slider = target instanceof HTMLInputElement && target.type === 'range';
    if (typing && !(slider && !name.startsWith('Arrow'))) return;
    // Enter presses what has the focus
    if (name === 'Enter' && target?.closest(PRESSED)) return;
    if (!name.startsWith('Ctrl+') && !singleKeys()) return;
    if (dialogOpen()) return;
    event.preventDefault();
    action(event);
  }
  useEventListener(window, 'keydown', listen);
}
