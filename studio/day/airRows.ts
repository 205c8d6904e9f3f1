import type { Draft } from 'immer';
import { CLEAR_AIR, type Air } from '../../core/sky';
import { hexFromRgb, luminance, rgbFromHex, scaleRgb, type Rgb } from '../../core/units';
import { linear, logarithmic, type Quantity } from '../desk/quantity';

/** One value of an air on the desk. */
export interface AirRow {
  label: string;
  hint: string;
  quantity: Quantity;
  get(air: Air): number;
  set(air: Draft<Air>, value: number): void;
}

/** The colour of one of an air's parts: its amount, by luminance, stays as it is. */
export interface AirColor {
  label: string;
  get(air: Air): string;
  set(air: Draft<Air>, hex: string): void;
}

const AMOUNT = logarithmic('×', 0.01, 100, { zero: true });
const HEIGHT = logarithmic('m', 50, 60_000, { digits: 2 });
const LAYER = linear('m', 0, 90_000, 500, 0);
const SHARE = linear('', 0, 1, 0.01, 2);
const FORWARD = linear('', 0, 0.99, 0.01, 2);

/** An amount against clear air of the Earth, by luminance; setting it scales the colour that is there. */
const amount = (of: Rgb, clear: Rgb) => luminance(of) / luminance(clear);
const scaledTo = (of: Rgb, clear: Rgb, times: number): Rgb =>
  luminance(of) > 0 ? scaleRgb(of, (times * luminance(clear)) / luminance(of)) : scaleRgb(clear, times);

/** A triple's hue as a colour of full strength, and a triple of a colour's hue with another's luminance. */
const hueOf = (rgb: Rgb) => hexFromRgb(scaleRgb(rgb, 1 / Math.max(...rgb, 1e-12)));
const inHue = (hex: string, of: Rgb): Rgb => {
  const hue = rgbFromHex(hex);
  return luminance(hue) > 0 ? scaleRgb(hue, luminance(of) / luminance(hue)) : of;
};

const soot = ({ haze, hazeAbsorption }: Air) => luminance(hazeAbsorption) / Math.max(1e-12, luminance(haze) + luminance(hazeAbsorption));

/** A row of a number that the air has just so. */
const plainRow = (label: string, hint: string, quantity: Quantity, key: PlainKey): AirRow => ({
  label,
  hint,
  quantity,
  get: (a) => a[key],
  set: (a, v) => void (a[key] = v),
});
type PlainKey = 'hazeHeightM' | 'hazeForward' | 'moleculesHeightM' | 'absorptionCentreM' | 'absorptionHalfWidthM';

/** A row of a triple's amount, against that of clear air. */
const amountRow = (label: string, hint: string, key: 'molecules' | 'absorption'): AirRow => ({
  label,
  hint,
  quantity: AMOUNT,
  get: (a) => amount(a[key], CLEAR_AIR[key]),
  set: (a, v) => void (a[key] = scaledTo(a[key] as Rgb, CLEAR_AIR[key], v)),
});

/** What an air is made of: what is turned most. */
export const AIR_ROWS: AirRow[] = [
  amountRow('Molecules', 'Scatter blue: the colour of the sky, and the red of a low sun', 'molecules'),
  {
    label: 'Haze',
    hint: 'Drops and dust: whiten the sky and dim the sun',
    quantity: AMOUNT,
    get: (a) => amount(a.haze, CLEAR_AIR.haze),
    set: (a, v) => {
      const times = luminance(a.haze as Rgb) > 0 ? (v * luminance(CLEAR_AIR.haze)) / luminance(a.haze as Rgb) : null;
      a.haze = scaledTo(a.haze as Rgb, CLEAR_AIR.haze, v);
      a.hazeAbsorption = times === null ? scaleRgb(CLEAR_AIR.hazeAbsorption, v) : scaleRgb(a.hazeAbsorption as Rgb, times);
    },
  },
  plainRow('Haze height', 'Height over which haze thins out to a third', HEIGHT, 'hazeHeightM'),
  plainRow('Forward', 'How much of it haze sends straight on: the glow about the sun', FORWARD, 'hazeForward'),
  amountRow('Absorption', 'The ozone layer: keeps twilight blue', 'absorption'),
  {
    label: 'Ground',
    hint: 'Reflectance of the land around, which lights the air from below',
    quantity: SHARE,
    get: (a) => luminance(a.groundAlbedo),
    set: (a, v) => void (a.groundAlbedo = scaledTo(a.groundAlbedo as Rgb, [1, 1, 1], v).map((x) => Math.min(1, x)) as Rgb),
  },
];

/** Heights and the share that haze swallows: for other worlds. */
export const AIR_MORE_ROWS: AirRow[] = [
  plainRow('Air height', 'Height over which molecules thin out to a third', HEIGHT, 'moleculesHeightM'),
  {
    label: 'Soot',
    hint: 'Share of what haze takes out that it swallows',
    quantity: SHARE,
    get: soot,
    set: (a, v) => {
      const both = luminance(a.haze as Rgb) + luminance(a.hazeAbsorption as Rgb);
      // In their own colours; where one had none, in grey.
      const part = (of: Rgb, share: number): Rgb => scaledTo(of, [1, 1, 1], both * share);
      [a.haze, a.hazeAbsorption] = [part(a.haze as Rgb, 1 - v), part(a.hazeAbsorption as Rgb, v)];
    },
  },
  plainRow('Layer at', 'Height of the middle of the absorbing layer', LAYER, 'absorptionCentreM'),
  plainRow('Layer depth', 'From its middle to where the absorbing layer ends', HEIGHT, 'absorptionHalfWidthM'),
];

export const AIR_COLORS: AirColor[] = [
  { label: 'Molecules scatter', get: (a) => hueOf(a.molecules), set: (a, hex) => void (a.molecules = inHue(hex, a.molecules as Rgb)) },
  { label: 'Haze scatters', get: (a) => hueOf(a.haze), set: (a, hex) => void (a.haze = inHue(hex, a.haze as Rgb)) },
  {
    label: 'Haze swallows',
    get: (a) => hueOf(a.hazeAbsorption),
    set: (a, hex) => void (a.hazeAbsorption = inHue(hex, a.hazeAbsorption as Rgb)),
  },
  { label: 'Layer swallows', get: (a) => hueOf(a.absorption), set: (a, hex) => void (a.absorption = inHue(hex, a.absorption as Rgb)) },
  {
    label: 'Ground’s colour',
    get: (a) => hueOf(a.groundAlbedo),
    set: (a, hex) => void (a.groundAlbedo = inHue(hex, a.groundAlbedo as Rgb).map((x) => Math.min(1, x)) as Rgb),
  },
];
