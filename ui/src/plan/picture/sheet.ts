export interface Shown {
  title: string;
  words: string;
  picture: HTMLCanvasElement;
}

const ACROSS = 5;
const GAP = 16;
const CAPTION = 46;
const HEAD = 64;
const FACE = "'Atkinson Hyperlegible Next Variable', sans-serif";
const PAPER = '#fafafa';
const INK = '#1f1f1f';
const INK_2 = '#585858';

function fitted(pen: CanvasRenderingContext2D, words: string, width: number): string {
  if (pen.measureText(words).width <= width) return words;
  let cut = words;
  while (cut && pen.measureText(`${cut}…`).width > width) cut = cut.slice(0, -1);
  return `${cut}…`;
}

/** Pictures with their names on one sheet, row by row. */
export async function composed(name: string, shown: Shown[]): Promise<Blob> {
  const [first] = shown;
  if (!first) throw new Error('There is no picture to save.');
  await document.fonts.ready;
  const { width, height } = first.picture;
  const columns = Math.min(ACROSS, shown.length);
  const rows = Math.ceil(shown.length / columns);
  const sheet = document.createElement('canvas');
  sheet.width = columns * (width + GAP) + GAP;
  sheet.height = HEAD + rows * (height + CAPTION + GAP) + GAP;
  const pen = sheet.getContext('2d')!;
  pen.fillStyle = PAPER;
  pen.fillRect(0, 0, sheet.width, sheet.height);
  pen.fillStyle = INK;
  pen.font = `700 26px ${FACE}`;
  pen.fillText(fitted(pen, name, sheet.width - 2 * GAP), GAP, 42);
  shown.forEach((one, i) => {
    const x = GAP + (i % columns) * (width + GAP);
    const y = HEAD + Math.floor(i / columns) * (height + CAPTION + GAP);
    pen.drawImage(one.picture, x, y);
    pen.fillStyle = INK;
    pen.font = `700 15px ${FACE}`;
    pen.fillText(fitted(pen, one.title, width), x, y + height + 20);
    pen.fillStyle = INK_2;
    pen.font = `400 14px ${FACE}`;
    pen.fillText(fitted(pen, one.words, width), x, y + height + 38);
  });
  return new Promise((done, failed) => {
    sheet.toBlob((blob) => (blob ? done(blob) : failed(new Error('No picture came of it.'))));
  });
}

/** Hand a file to the painter. */
export function download(blob: Blob, name: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(blob);
  link.download = name.replace(/[\\/:*?"<>|]/g, ' ');
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
}
