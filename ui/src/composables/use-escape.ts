import { useEventListener } from '@vueuse/core';

/** Fields that keep Escape to themselves, open or not. */
const KEEPS = '.el-select, .el-color-picker';
const COLOURS = '.el-color-picker__panel';

function open(target: Element): boolean {
  if (target.getAttribute('aria-expanded') === 'true') return true;
  return [...document.querySelectorAll(COLOURS)].some((panel) => panel.getClientRects().length > 0);
}

/**
 * Lets Escape close the dialog or drawer round a closed choice or colour. Such a field keeps that
 * key to itself, open or not, so a dialog would hear nothing while one of them has the focus.
 */
export function useEscape(): void {
  useEventListener(
    document,
    'keydown',
    (event: KeyboardEvent) => {
      const target = event.target;
      if (event.key !== 'Escape' || !event.isTrusted || !(target instanceof HTMLElement)) return;
      const around = target.closest(KEEPS)?.parentElement?.closest('.el-dialog, .el-drawer');
      if (!around || open(target)) return;
      event.stopPropagation();
      around.dispatchEvent(
        new KeyboardEvent('keydown', { key: 'Escape', code: 'Escape', bubbles: true }),
      );
    },
    { capture: true },
  );
}
