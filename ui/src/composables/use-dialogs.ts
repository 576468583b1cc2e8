import { useEventListener } from '@vueuse/core';

/** Fields that keep Escape to themselves, open or not. */
const KEEPS = '.el-select, .el-color-picker';
const DIALOGS = '.el-dialog, .el-drawer';
const COLOURS = '.el-color-picker__panel';

function open(target: Element): boolean {
  if (target.getAttribute('aria-expanded') === 'true') return true;
  return [...document.querySelectorAll(COLOURS)].some((panel) => panel.getClientRects().length > 0);
}

/**
 * What dialogs and drawers lack by keyboard. Escape closes the one round a closed choice or colour:
 * such a field keeps that key to itself, open or not, so the dialog would hear nothing while one of
 * them has the focus. And what gets the focus is scrolled to, also where Tab goes round.
 */
export function useDialogs(): void {
  useEventListener(document, 'keydown', passEscapeOn, { capture: true });
  useEventListener(document, 'focusin', (event: FocusEvent) => {
    const target = event.target;
    if (
      target instanceof HTMLElement &&
      target.matches(':focus-visible') &&
      target.closest(DIALOGS)
    ) {
      target.scrollIntoView({ block: 'nearest' });
    }
  });
}

function passEscapeOn(event: KeyboardEvent): void {
  const target = event.target;
  if (event.key !== 'Escape' || !event.isTrusted || !(target instanceof HTMLElement)) return;
  const around = target.closest(KEEPS)?.parentElement?.closest(DIALOGS);
  if (!around || open(target)) return;
  event.stopPropagation();
  around.dispatchEvent(
    new KeyboardEvent('keydown', { key: 'Escape', code: 'Escape', bubbles: true }),
  );
}
