import { groundIlluminance, imageLux, type AirSky, type ImageSky, type Panorama } from '../../sky';
import { Failure, chromaticity, luminance, rgbFromHex, scaleRgb, wrapDegrees } from '../../units';
import type { SunLight } from './sunLight';
import type { HeldImage, Rig } from '../document/types';

/** Whether a sun lights the level besides the one that an image still has in it. */
export const hasTwoSuns = ({ sun }: Pick<HeldImage, 'sun'>, suns: readonly SunLight[]): boolean =>
  sun === 'left' && suns.some(({ kind, illuminance }) => kind === 'sun' && luminance(illuminance) > 0);

/** Pixels of a sky image: whole, and without its sun where one was found. */
export interface SkyPixels {
  whole: Panorama;
  rest: Panorama | null;
}
/** The images of the shelf that are at hand, by their ids. */
export type SkyImages = ReadonlyMap<string, SkyPixels>;
export const NO_IMAGES: SkyImages = new Map();

/** An image as a cue holds it. */
export function imageSky(held: HeldImage, { whole, rest }: SkyPixels, northDeg: number, air: AirSky): ImageSky {
  const image = held.sun === 'taken' && rest ? rest : whole;
  const { level } = held;
  const own = imageLux(image);
  const wanted = level.by === 'lux' ? level.lux : level.by === 'air' ? luminance(groundIlluminance([{ weight: 1, sky: air }])) : 0;
  const gain = level.by === 'itself' ? 1 : level.by === 'ev' ? 2 ** level.ev : own > 0 ? Math.max(0, wanted) / own : 0;
  return {
    kind: 'image',
    image,
    turnDeg: wrapDegrees(held.yawDeg + northDeg),
    gain: scaleRgb(chromaticity(rgbFromHex(held.tint)), gain),
    saturation: held.saturation,
    shown: 2 ** held.shownEv,
  };
}

/**
 * Refuses a rig some of whose cues hold sky images, for those who have no shelf to take them from. Throws a `bad-input`
 * {@link Failure} that names the cues.
 */
export function refuseHeldImages({ cues }: Pick<Rig, 'cues'>): void {
  const holding = cues.filter((c) => c.holds.image);
  if (holding.length === 0) return;
  throw new Failure(
    'bad-input',
    `${holding.map((c) => `"${c.name}"`).join(', ')} ${holding.length > 1 ? 'hold sky images' : 'holds a sky image'}, which the rig only names: it lies on the shelf of a project.`,
    'Give those cues another sky, or work in the studio.',
  );
}
