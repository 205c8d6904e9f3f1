import { createRequire } from 'node:module';
import * as fontkit from 'fontkit';
import sharp from 'sharp';
import type { Still } from './stills';

/** Spacing, room for the words, and sizes of type, pixels. */
const GAP = 12;
const HEAD = 44;
const WORDS = 34;
const TITLE_PX = 18;
const LABEL_PX = 15;
const GROUND = '#2b2b2b';
const INK = '#ececec';
const SOFT = '#b4b4b4';

/** A picture of a sheet with its words. */
export interface LabelledStill {
  still: Pick<Still, 'width' | 'height' | 'rgb'>;
  label: string;
  note: string;
}

const FONT_FILES = ['latin', 'latin-ext'].map((set) => `@fontsource-variable/archivo/files/archivo-${set}-wdth-normal.woff2`);
let fonts: fontkit.Font[] | null = null;

/** The typeface of the application, its letters of western and of central Europe. */
function typeface(): fontkit.Font[] {
  const { resolve } = createRequire(`${process.cwd()}/package.json`);
  fonts ??= FONT_FILES.map((file) => fontkit.openSync(resolve(file)) as fontkit.Font);
  return fonts;
}

/** Text as outlines, so that it does not depend on the fonts of a machine; letters that the typeface lacks are boxes. */
function outlines(text: string, x: number, y: number, sizePx: number, color: string): { svg: string; width: number } {
  const [latin, more] = typeface() as [fontkit.Font, fontkit.Font];
  let [at, svg] = [0, ''];
  for (const letter of text) {
    // A letter without a shape is the first of a font's.
    const [font, glyph] = [latin, more].map((f) => [f, f.glyphsForString(letter)[0]!] as const).find(([, g]) => g.id !== 0) ?? [
      latin,
      latin.glyphsForString(letter)[0]!,
    ];
    const scale = sizePx / font.unitsPerEm;
    svg += `<path transform="translate(${(x + at).toFixed(2)} ${y}) scale(${scale} ${-scale})" d="${glyph.path.toSVG()}"/>`;
    at += glyph.advanceWidth * scale;
  }
  return { svg: `<g fill="${color}">${svg}</g>`, width: at };
}

/** A PNG of pictures of one size side by side, each with its words under it, and a title over all. */
export async function sheetPng(title: string, cells: readonly LabelledStill[], columns: number): Promise<Buffer> {
  const { width, height } = cells[0]!.still;
  const rows = Math.ceil(cells.length / columns);
  const page = { width: columns * (width + GAP) + GAP, height: HEAD + rows * (height + WORDS) + GAP };
  const placeOf = (i: number) => ({
    left: GAP + (i % columns) * (width + GAP),
    top: HEAD + Math.floor(i / columns) * (height + WORDS),
  });
  let words = outlines(title, GAP, 29, TITLE_PX, INK).svg;
  cells.forEach(({ label, note }, i) => {
    const { left, top } = placeOf(i);
    const name = outlines(label, left, top + height + 22, LABEL_PX, INK);
    words += name.svg + outlines(note, left + name.width + 10, top + height + 22, LABEL_PX, SOFT).svg;
  });
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${page.width}" height="${page.height}">${words}</svg>`;
  return sharp({ create: { ...page, channels: 3, background: GROUND } })
    .composite([
      ...cells.map(({ still }, i) => ({ input: Buffer.from(still.rgb), raw: { width, height, channels: 3 as const }, ...placeOf(i) })),
      { input: Buffer.from(svg), left: 0, top: 0 },
    ])
    .png()
    .toBuffer();
}
