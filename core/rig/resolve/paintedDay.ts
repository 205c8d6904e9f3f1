import { chromaticity, freeName, hueHex, luminance, rgbFromHex, scaleRgb, type Rgb } from '../../units';
import { DEFAULT_CLOUDS, NEW_CUE } from '../document/defaults';
import type { Band, Bands, Cue, Facing, Holds, Rig } from '../document/types';
import { sunHours } from './circuits';
import { fittedExposure } from './fittedExposure';

/** A colour of one of the painted skies: `#rrggbb`, and its share of the sky's brightest band. */
type Painted = readonly [color: string, share: number];

interface Painting {
  name: string;
  zenith: Painted;
  middle: Painted;
  horizon: Painted;
  ground: Painted;
  /** Luminance of the brightest band, cd/m2. */
  brightest: number;
  sun: { illuminanceLux: number; colorK: number };
  halo: { haloColor: string; halo: number; haloDeg: number };
  fog: { visibilityM: number; color: string };
  cover: number;
  shadeEv: number;
  clarityM: number;
}

/** Our own four skies, painted so that each reads as its hour without being true to any air. */
const PAINTINGS = {
  dawn: {
    name: 'Painted dawn',
    zenith: ['#4a6390', 0.28],
    middle: ['#b59aa8', 0.6],
    horizon: ['#ffc489', 1],
    ground: ['#6e5a58', 0.2],
    brightest: 2600,
    sun: { illuminanceLux: 9000, colorK: 3200 },
    halo: { haloColor: '#ffb070', halo: 0.3, haloDeg: 14 },
    fog: { visibilityM: 900, color: '#ffe4cc' },
    cover: 0.25,
    shadeEv: 0.5,
    clarityM: 5,
  },
  midday: {
    name: 'Painted midday',
    zenith: ['#3f7ac8', 0.42],
    middle: ['#79a8de', 0.68],
    horizon: ['#cfe2f2', 1],
    ground: ['#b7a284', 0.6],
    brightest: 7000,
    sun: { illuminanceLux: 85_000, colorK: 5600 },
    halo: { haloColor: '#fff4dc', halo: 0.08, haloDeg: 6 },
    fog: { visibilityM: 9000, color: '#f2f8ff' },
    cover: 0.2,
    shadeEv: 0,
    clarityM: 12,
  },
  dusk: {
    name: 'Painted dusk',
    zenith: ['#39406e', 0.22],
    middle: ['#9a6a86', 0.5],
    horizon: ['#ff8f55', 1],
    ground: ['#5a4650', 0.16],
    brightest: 1700,
    sun: { illuminanceLux: 5000, colorK: 2500 },
    halo: { haloColor: '#ff8248', halo: 0.4, haloDeg: 18 },
    fog: { visibilityM: 1500, color: '#ffd2b8' },
    cover: 0.35,
    shadeEv: 0.6,
    clarityM: 5,
  },
  midnight: {
    name: 'Painted midnight',
    zenith: ['#141d3c', 0.5],
    middle: ['#1e2a50', 0.75],
    horizon: ['#31426e', 1],
    ground: ['#11141f', 0.3],
    brightest: 0.09,
    sun: { illuminanceLux: 0, colorK: 4500 },
    halo: { haloColor: '#aebcff', halo: 0.2, haloDeg: 8 },
    fog: { visibilityM: 1200, color: '#b8c4ff' },
    cover: 0.3,
    shadeEv: 0.5,
    clarityM: 3,
  },
} as const satisfies Record<string, Painting>;
const PAINTED_HOURS = Object.keys(PAINTINGS) as (keyof typeof PAINTINGS)[];

const band = ([color, share]: Painted, brightest: number): Band => ({ color, luminanceCdM2: Number((brightest * share).toPrecision(4)) });

/** A band's light, RGB cd/m2. */
const lightOf = ({ color, luminanceCdM2 }: Band): Rgb => scaleRgb(chromaticity(rgbFromHex(color)), luminanceCdM2);

/** What a face has of bands by their shares. */
function face(parts: readonly (readonly [Band, number])[]): Facing['up'] {
  const sum = parts.reduce<Rgb>((all, [b, share]) => lightOf(b).map((v, c) => all[c]! + v * share) as Rgb, [0, 0, 0]);
  return { color: hueHex(sum), illuminanceLux: Number((luminance(sum) * Math.PI).toPrecision(4)) };
}

function bandsOf(painting: Painting): Bands {
  const { brightest } = painting;
  const [zenith, middle, horizon, ground] = [painting.zenith, painting.middle, painting.horizon, painting.ground].map((p) =>
    band(p, brightest),
  );
  const b = { zenith: zenith!, middle: middle!, horizon: horizon!, ground: ground! };
  return {
    ...b,
    softness: 0.8,
    // By the cosine, level ground has 3/4 of its light from over 30 degrees; a wall has half a sky and half the ground.
    facing: {
      up: face([
        [b.zenith, 0.4],
        [b.middle, 0.35],
        [b.horizon, 0.25],
      ]),
      side: face([
        [b.horizon, 0.3],
        [b.middle, 0.15],
        [b.zenith, 0.05],
        [b.ground, 0.5],
      ]),
      down: face([[b.ground, 1]]),
    },
  };
}

/**
 * A whole painted day for a rig's place and date: timed cues for dawn, midday, dusk and midnight, each with its bands and the light they give, the
 * sun's strength, colour and halo, clouds, fog, water where the day has some, the lift of the shade, and a fixed exposure.
 */
export function paintedDay(rig: Rig): Cue[] {
  const { rise, set } = sunHours(rig);
  const [risen, setting] = [rise ?? 6, set ?? 18];
  const noon = (risen + ((setting - risen + 24) % 24) / 2) % 24;
  const hours = { dawn: risen + 0.6, midday: noon, dusk: setting - 0.4, midnight: noon + 12 };
  const made: Cue[] = [];
  for (const which of PAINTED_HOURS) {
    const painting: Painting = PAINTINGS[which];
    const { sun, halo, fog, cover, shadeEv, clarityM } = painting;
    const holds: Holds = {
      ...(sun.illuminanceLux > 0 ? { sun: { ...sun }, sunLook: { ...halo } } : { moonLook: { ...halo } }),
      sky: bandsOf(painting),
      clouds: { ...DEFAULT_CLOUDS, cover },
      fog: { ...fog },
      shadeEv,
      ...(rig.water.levelM === null ? {} : { water: { clarityM } }),
    };
    const hour = Number(((hours[which] + 24) % 24).toFixed(2)) % 24;
    const cue: Cue = { ...freeName([...rig.cues, ...made], painting.name), kind: 'timed', hour, fadeS: 2, ...NEW_CUE, holds };
    made.push({ ...cue, holds: { ...holds, exposure: fittedExposure(rig, cue) } });
  }
  return made;
}
