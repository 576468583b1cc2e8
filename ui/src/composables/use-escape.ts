import { useEventListener } from '@vueuse/core';

/**
 * Lets Escape close the dialog or drawer round a closed choice. The choice keeps that key to itself,
 * open or not, so a dialog would hear nothing while one of its choices has the focus.
 */
export function useEscape(): void {
  useEventListener(
    document,
    'keydown',
    (event: KeyboardEvent) => {
      const target = event.target;
      if (event.key !== 'Escape' || !event.isTrusted || !(target instanceof HTMLElement)) return;
      const choice = target.closest('.el-select');
      const around = choice?.parentElement?.closest('.el-dialog, .el-drawer');
      if (!around || target.getAttribute('aria-expanded') === 'true') return;
      event.stopPropagation();
      around.dispatchEvent(
        new KeyboardEvent('keydown', { key: 'Escape', code: 'Escape', bubbles: true }),
      );
    },
    { capture: true },
  );
}
