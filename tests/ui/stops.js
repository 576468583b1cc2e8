// Where Tab stops: what has the focus, whether one sees it there, and what should be reached.
(() => {
  const FOCUSABLE =
    'a[href], button, input, textarea, select, summary, [tabindex], audio[controls], video[controls]';
  const shown = (one) => one.checkVisibility({ visibilityProperty: true }) && one.getClientRects().length > 0;
  const dialogs = () =>
    [...document.querySelectorAll('.el-overlay [role=dialog], .el-overlay [role=alertdialog]')].filter(shown);
  const scope = () => dialogs().at(-1) ?? document.body;
  const name = (one) =>
    (one.getAttribute('aria-label') || one.innerText || one.className.baseVal || one.className || one.tagName)
      .toString().trim().replace(/\s+/g, ' ').slice(0, 60);
  /** Radios of one group are one stop. */
  const stop = (one) => (one.type === 'radio' && one.name ? `radios ${one.name}` : mark(one));
  const marks = new WeakMap();
  const mark = (one) => {
    if (!marks.has(one)) marks.set(one, `${(window.stopCount = (window.stopCount ?? 0) + 1)} ${name(one)}`);
    return marks.get(one);
  };
  const tabbable = () =>
    [...scope().querySelectorAll(FOCUSABLE)].filter(
      (one) => one.tabIndex >= 0 && !one.disabled && shown(one) && !one.closest('[inert]') && one.type !== 'hidden');

  const LOOK = ['outlineStyle', 'outlineWidth', 'outlineColor', 'boxShadow', 'borderColor', 'stroke', 'strokeWidth', 'backgroundColor'];
  const drawnAs = (one) => {
    const around = [one, one.parentElement, one.parentElement?.parentElement, one.parentElement?.parentElement?.parentElement];
    return [...around, ...one.querySelectorAll('*')]
      .filter(Boolean).slice(0, 24)
      .map((at) => { const s = getComputedStyle(at); return LOOK.map((l) => s[l]).join() + getComputedStyle(at, '::after').outlineStyle; })
      .join();
  };
  const unfocused = new Map();
  window.stops = {
    /** What Tab should reach, by name; keeps how each looks without the focus. */
    async expected() {
      const dialog = dialogs().at(-1);
      if (dialog) {
        const start = dialog.closest('.el-dialog, .el-drawer') ?? dialog.querySelector('.el-dialog');
        start.tabIndex = -1;
        start.focus();
      } else document.activeElement?.blur?.();
      // a field that had the focus looks as without it from the next drawing on
      for (let n = 0; n < 2; n += 1) await new Promise(requestAnimationFrame);
      unfocused.clear();
      for (const one of tabbable()) unfocused.set(one, drawnAs(one));
      return [...new Set(tabbable().map(stop))];
    },
    /** Where the focus is and what is wrong with how it shows; null outside of what is expected. */
    now() {
      const one = document.activeElement;
      if (!one || one === document.body || !scope().contains(one)) return null;
      const box = one.getBoundingClientRect();
      const wrong = [];
      const [x, y] = [box.left + box.width / 2, box.top + box.height / 2];
      if (unfocused.get(one) === drawnAs(one)) wrong.push('focus not seen');
      const large = box.width > 250 && box.height > 120;
      if (!large && (x < 0 || y < 0 || x > innerWidth || y > innerHeight)) wrong.push('out of the window');
      else if (!large) {
        const at = document.elementFromPoint(x, y);
        const own = one.closest('svg') ?? one.closest('.el-select__wrapper, .el-input__wrapper, .el-checkbox, .el-radio-button, .el-segmented__item, .el-switch, label') ?? one;
        if (at && !own.contains(at) && !at.contains(own)) wrong.push(`under "${name(at)}"`);
      }
      return { stop: stop(one), wrong };
    },
    /** One of each kind of control, to press Escape on. */
    kinds() {
      const found = new Map();
      for (const one of tabbable()) {
        const kind = [one.tagName, one.type, one.getAttribute('role'), one.closest('[class^=el-]')?.className.split(' ')[0]].join();
        if (!found.has(kind)) found.set(kind, one);
      }
      window.kindsFound = [...found.values()];
      return window.kindsFound.map(name);
    },
    /** Give the n-th of them the focus; its name, or null when there are not so many. */
    focusKind(n) {
      this.kinds();
      const one = window.kindsFound[n];
      one?.focus();
      return one ? name(one) : null;
    },
  };
})();
