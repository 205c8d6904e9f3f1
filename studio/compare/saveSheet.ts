import { grouped } from '../desk/quantity';
import { saveFile } from '../desk/saveFile';
import { ASPECT, GAP, WORDS, bestColumns } from './sheetLayout';
import type { Sheet } from './sheetStore';

/** Width of the pictures in a saved sheet, pixels, and what shape it takes. */
const PICTURE = 480;
const PAGE = { width: 1600, height: 1000 };
const INK = '#ececec';
const SOFT = '#b4b4b4';
const GROUND = '#2b2b2b';
const HEAD = 44;

/** Saves a sheet as one PNG, its words under the pictures. */
export async function saveSheet({ title, fileName, cells, made, tellsLost }: Sheet): Promise<void> {
  await document.fonts.ready;
  const { columns } = bestColumns(cells.length, PAGE.width, PAGE.height);
  const rows = Math.ceil(cells.length / columns);
  const height = Math.round(PICTURE / ASPECT);
  const canvas = new OffscreenCanvas(columns * (PICTURE + GAP) + GAP, HEAD + rows * (height + WORDS + GAP));
  const context = canvas.getContext('2d')!;
  const family = getComputedStyle(document.body).fontFamily;
  context.fillStyle = GROUND;
  context.fillRect(0, 0, canvas.width, canvas.height);
  const write = (text: string, x: number, y: number, font: string, color: string) => {
    context.font = `${font} ${family}`;
    context.fillStyle = color;
    context.fillText(text, x, y);
    return context.measureText(text).width;
  };
  write(title, GAP, 29, '600 18px', INK);
  for (const [i, { label, note }] of cells.entries()) {
    const picture = made[i];
    if (!picture) continue;
    const x = GAP + (i % columns) * (PICTURE + GAP);
    const y = HEAD + Math.floor(i / columns) * (height + WORDS + GAP);
    context.drawImage(await createImageBitmap(await (await fetch(picture.url)).blob()), x, y, PICTURE, height);
    const used = write(label, x, y + height + 22, '600 15px', INK);
    const lost = tellsLost ? `burnt ${grouped(picture.lost.burnt * 100, 1)} %, black ${grouped(picture.lost.black * 100, 1)} %` : '';
    write([note, lost].filter(Boolean).join('   '), x + used + 10, y + height + 22, '400 14px', SOFT);
  }
  saveFile(await canvas.convertToBlob({ type: 'image/png' }), fileName);
}
