// What of the screen, or of the dialog on top of it, cannot be reached, read or pressed.
({ finger, least }) => {
  const CONTROLS =
    'a[href], button, input, textarea, select, [role=button], [role=combobox], [role=radio], ' +
    '[role=switch], [role=slider], [role=menuitem], [role=checkbox], [tabindex]:not([tabindex="-1"])';
  const HOLDERS =
    '.el-select__wrapper, .el-input__wrapper, .el-color-picker, .el-checkbox, .el-radio-button, ' +
    '.el-radio, .el-segmented__item, .el-switch, .el-upload, label';
  const HELD = 'input, [role=combobox], [role=radio], [role=switch], [role=checkbox]';
  const SLACK = 1.5;
  const found = new Set();
  const shown = (one) =>
    one.checkVisibility({ opacityProperty: true, visibilityProperty: true }) && !one.closest('.visually-hidden');
  const name = (one) =>
    (one.getAttribute('aria-label') || one.innerText || one.getAttribute('placeholder') || one.className.baseVal ||
      one.className || one.tagName).toString().trim().replace(/\s+/g, ' ').slice(0, 60);
  const dialogs = [...document.querySelectorAll('.el-overlay [role=dialog], .el-overlay [role=alertdialog]')].filter(shown);
  const scope = dialogs.at(-1) ?? document.body;

  /** The part of a box one can press or see: a field round an input, the target of a mark. */
  const boxed = (one) => {
    if (one instanceof SVGElement) return one.querySelector('.target') ?? one.closest('svg').querySelector('.catch') ?? one;
    const holder = one.matches(HELD) ? one.closest(HOLDERS) : null;
    return holder && scope.contains(holder) ? holder : one;
  };
  const clips = (style) => [style.overflowX, style.overflowY].map((o) => o !== 'visible');
  /** What is left of a box within all that clips it; notes what only a script could scroll. */
  const left = (one, label) => {
    let { left, right, top, bottom } = one.getBoundingClientRect();
    for (let at = one; at && at !== document.documentElement; at = at.parentElement) {
      const style = getComputedStyle(at);
      if (at !== one && !(at instanceof SVGElement && !(at instanceof SVGSVGElement))) {
        const [x, y] = clips(style);
        const box = at.getBoundingClientRect();
        if (x) [left, right] = [Math.max(left, box.left), Math.min(right, box.right)];
        if (y) [top, bottom] = [Math.max(top, box.top), Math.min(bottom, box.bottom)];
        const forced =
          (style.overflowX === 'hidden' && at.scrollLeft) || (style.overflowY === 'hidden' && at.scrollTop);
        if (forced && label) {
          found.add(`cannot be scrolled to: ${label}`);
          at.scrollLeft = at.scrollTop = 0;
        }
      }
      if (style.position === 'fixed') break;
    }
    return {
      left: Math.max(left, 0), right: Math.min(right, innerWidth),
      top: Math.max(top, 0), bottom: Math.min(bottom, innerHeight),
    };
  };
  const covers = (one, box) => {
    // a mark of an instrument may lie on another mark of it
    const own = one.closest('svg') ?? one;
    for (const [fx, fy] of [[0.5, 0.5], [0.2, 0.5], [0.8, 0.5], [0.5, 0.25], [0.5, 0.75]]) {
      const at = document.elementFromPoint(
        box.left + fx * (box.right - box.left), box.top + fy * (box.bottom - box.top));
      if (at && !own.contains(at) && !at.contains(own)) return at;
    }
    return null;
  };

  /** How far one can press it along a line through its middle: what is pressed may be larger than what is drawn. */
  const run = (one, box, dx, dy) => {
    const [x, y] = [(box.left + box.right) / 2, (box.top + box.bottom) / 2];
    const owner = one.closest('g[role]') ?? one;
    const hit = (n) => owner.contains(document.elementFromPoint(x + n * dx, y + n * dy));
    let [from, to] = [0, 0];
    while (from > -48 && hit(from - 1)) from -= 1;
    while (to < 48 && hit(to + 1)) to += 1;
    return Math.max(to - from + 1, Math.floor(dx ? box.right - box.left : box.bottom - box.top));
  };

  const seen = new Set();
  for (const one of scope.querySelectorAll(CONTROLS)) {
    if (!shown(one) || one.closest('[inert], [aria-hidden=true]')) continue;
    const held = boxed(one);
    if (seen.has(held)) continue;
    seen.add(held);
    const whole = held.getBoundingClientRect();
    if (!whole.width || !whole.height) continue;
    const large = whole.width > 250 && whole.height > 120; // an instrument, not a control
    held.scrollIntoView({ block: 'nearest', inline: 'nearest', behavior: 'instant' });
    const label = name(one);
    const box = left(held, label);
    const now = held.getBoundingClientRect();
    const cut = [box.left - now.left, now.right - box.right, box.top - now.top, now.bottom - box.bottom];
    if (!large && Math.max(...cut) > SLACK) found.add(`cut by ${Math.round(Math.max(...cut))} px: ${label}`);
    else if (large && (box.right - box.left < 40 || box.bottom - box.top < 40)) found.add(`out of sight: ${label}`);
    else if (!large) {
      const over = covers(held, box);
      if (over) found.add(`under "${name(over)}": ${label}`);
    }
    const inText = one.matches('a') && getComputedStyle(one).display === 'inline';
    const enough = finger ? 43.5 : 23.5;
    if (!large && !inText && Math.min(whole.width, whole.height) < enough) {
      held.scrollIntoView({ block: 'center', inline: 'nearest', behavior: 'instant' });
      const middle = left(held, label);
      const [wide, high] = [run(held, middle, 1, 0), run(held, middle, 0, 1)];
      if (Math.min(wide, high) < enough) found.add(`${wide} × ${high} px: ${label}`);
    }
    if (held.matches('.el-select__wrapper')) {
      const word = held.querySelector('.el-select__placeholder');
      if (word && word.scrollWidth > word.clientWidth + 1) found.add(`cut short: ${word.innerText}`);
    }
  }

  // a part of a screen scrolls down, not sideways; a table or a row of pictures may
  for (const one of scope.querySelectorAll('aside, section, main, main > *, .el-dialog__body, .el-drawer__body')) {
    const over = getComputedStyle(one).overflowX;
    if (shown(one) && (over === 'auto' || over === 'scroll') && one.scrollWidth > one.clientWidth + 1)
      found.add(`scrolls sideways by ${one.scrollWidth - one.clientWidth} px: ${name(one)}`);
  }

  const words = document.createTreeWalker(scope, NodeFilter.SHOW_TEXT);
  for (let node = words.nextNode(); node; node = words.nextNode()) {
    const at = node.parentElement;
    const said = node.textContent.trim().replace(/\s+/g, ' ').slice(0, 60);
    if (!said || !shown(at) || at.closest('script, style, title, option')) continue;
    const style = getComputedStyle(at);
    const scale = at instanceof SVGGraphicsElement ? Math.hypot(at.getScreenCTM().a, at.getScreenCTM().b) : 1;
    const size = parseFloat(style.fontSize) * scale;
    if (size < least) found.add(`${size.toFixed(1)} px high: ${said}`);
    if (at instanceof SVGElement) continue;
    if (style.overflowX !== 'visible' && at.scrollWidth > at.clientWidth + 1 && style.textOverflow === 'ellipsis' && !at.title && !at.closest('[title]'))
      found.add(`shortened without its whole words: ${said}`);
    const range = document.createRange();
    range.selectNodeContents(node);
    const line = range.getBoundingClientRect();
    for (let up = at; up && up !== document.body; up = up.parentElement) {
      const over = getComputedStyle(up);
      const box = up.getBoundingClientRect();
      if (over.textOverflow === 'ellipsis' && over.overflowX !== 'visible') break;
      if (over.overflowX === 'auto' || over.overflowX === 'scroll') break;
      if (over.overflowX !== 'visible' && (line.right > box.right + SLACK || line.left < box.left - SLACK)) {
        found.add(`words cut at the side: ${said}`);
        break;
      }
      if (over.position === 'fixed') break;
    }
  }
  return [...found];
};
