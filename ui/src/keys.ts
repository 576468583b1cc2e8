/** All keys and what they do, as Help lists them. */
export const KEYS: [string, string][] = [
  ['1 … 6', 'go to Piece, Light, Coats, Cups, Day, Booth'],
  ['[  ]', 'one coat back, one coat on'],
  ['V', 'see values only, and back'],
  ['L', 'next look'],
  ['A', 'work out the angles'],
  ['C', 'core sample at the middle of the picture; a click takes one there'],
  ['← → ↑ ↓', 'turn the piece; on the sky: move the station by 5°, with Shift by 1°'],
  ['+ −', 'nearer, farther; so do two fingers and the wheel (with Ctrl where the screen scrolls)'],
  ['Shift+← → ↑ ↓', 'move the piece on its card; so does a drag with Shift'],
  ['0', 'all of the piece again, as at first'],
  ['B', 'held: the piece before the last change'],
  ['Ctrl+Z', 'undo'],
  ['Ctrl+Shift+Z', 'redo'],
  ['?', 'this list'],
  ['Esc', 'close'],
];
export const AT_THE_BOOTH: [string, string][] = [
  ['Space', 'next; held for a second: a problem. A pedal and Page Down do the same'],
  ['B', 'back: the last press is taken back'],
  ['P', 'a problem'],
  ['T', 'turn what gauge or room ask for'],
  ['W', 'begin the wait now'],
  ['S', 'skip this step'],
  ['R', 'do this coat again'],
  ['L', 'replan the rest of the day from now'],
  ['M', 'sound on and off'],
];
