import { readFileSync } from 'node:fs';
import type { Profile } from '../core/lamps';

const steps = (from: number, to: number, count: number) => Array.from({ length: count }, (_, i) => from + ((to - from) * i) / (count - 1));
const gauss = (x: number, middle: number, width: number) => Math.exp(-(((x - middle) / width) ** 2));

interface Made {
  id: string;
  name: string;
  /** 1 (C) or 2 (B). */
  type: 1 | 2;
  openingM: number;
  watts: number;
  vertical: number[];
  horizontal: number[];
  candela(verticalDeg: number, horizontalDeg: number): number;
}

/** The lamps of Tamarisk Halt, made up. */
const MADE: Made[] = [
  {
    id: 'pierced-lantern',
    name: 'Pierced lantern',
    type: 1,
    openingM: 0.18,
    watts: 6,
    vertical: steps(0, 180, 37),
    horizontal: steps(0, 90, 7),
    // Light through rows of holes, in four panes, with a solid foot and cap.
    candela: (v, h) =>
      46 *
      (0.18 + gauss(v, 62, 16) + 0.8 * gauss(v, 98, 12)) *
      (0.72 + 0.28 * Math.cos((h * 4 * Math.PI) / 180)) *
      (1 - gauss(v, 0, 26)) *
      (1 - gauss(v, 180, 34)),
  },
  {
    id: 'gate-flood',
    name: 'Gate flood',
    type: 2,
    openingM: 0.3,
    watts: 48,
    vertical: steps(-60, 60, 25),
    horizontal: steps(0, 75, 16),
    // Wide to both sides, narrow and stronger downwards.
    candela: (v, h) => 5200 * gauss(v, -4, v < 0 ? 26 : 13) * gauss(h, 0, 34),
  },
  {
    id: 'cistern-bowl',
    name: 'Cistern bowl',
    type: 1,
    openingM: 0.42,
    watts: 22,
    vertical: steps(90, 180, 19),
    horizontal: [0],
    // An open bowl: all of it upwards.
    candela: (v) => 620 * Math.max(0, -Math.cos((v * Math.PI) / 180)) ** 0.8,
  },
];

/** The text of an IES file (LM-63-2002, absolute photometry). */
function iesOf({ name, type, openingM, watts, vertical, horizontal, candela }: Made): string {
  const rows = horizontal.map((h) => vertical.map((v) => Number(candela(v, h).toFixed(1))).join(' '));
  return [
    'IESNA:LM-63-2002',
    `[TEST] computed`,
    `[MANUFAC] none: made up for Tamarisk Halt`,
    `[LUMINAIRE] ${name}`,
    'TILT=NONE',
    `1 -1 1 ${vertical.length} ${horizontal.length} ${type} 2 ${openingM} ${openingM} 0`,
    `1 1 ${watts}`,
    vertical.join(' '),
    horizontal.join(' '),
    ...rows,
    '',
  ].join('\n');
}

/** The IES files of Tamarisk Halt, by what they are called without their ending. */
export const iesFiles = (): { id: string; name: string; text: string }[] =>
  MADE.map((made) => ({ id: made.id, name: made.name, text: iesOf(made) }));

/** Where they lie. */
export const iesFile = (id: string): URL => new URL(`./ies/${id}.ies`, import.meta.url);

/** The measured distributions that Tamarisk Halt comes with, as their files hold them. */
export const haltProfiles = (): Profile[] => MADE.map(({ id, name }) => ({ id, name, ies: readFileSync(iesFile(id), 'utf8') }));
