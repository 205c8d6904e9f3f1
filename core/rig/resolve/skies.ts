import {
  groundIlluminance,
  throughVeil,
  zenithDepth,
  type AirSky,
  type BandsSky,
  type ImageSky,
  type Sky,
  type SkyPart,
  type StarTurn,
  type Veil,
} from '../../sky';
import { chromaticity, rgbFromHex, scaleRgb, type Rgb, type Vec3 } from '../../units';
import type { Band, Bands, Facing, Holds } from '../document/types';
import { imageSky, type SkyImages } from './heldImage';
import type { SunLight } from './sunLight';

const bandRadiance = (band: Band): Rgb => scaleRgb(chromaticity(rgbFromHex(band.color)), band.luminanceCdM2);
/** E/pi of a face of the ambient light that is painted. */
const faceOf = ({ color, illuminanceLux }: Facing['up']): Rgb => scaleRgb(chromaticity(rgbFromHex(color)), illuminanceLux / Math.PI);
const bandsRadianceOf = ({ zenith, middle, horizon, ground, softness, facing }: Bands) => ({
  ...(middle ? { middle: bandRadiance(middle) } : {}),
  ...(softness === undefined ? {} : { softness }),
  zenith: bandRadiance(zenith),
  horizon: bandRadiance(horizon),
  ground: bandRadiance(ground),
  ...(facing ? { facing: { up: faceOf(facing.up), side: faceOf(facing.side), down: faceOf(facing.down) } } : {}),
});

/** What of a sky cues paint, the air doing the rest. */
export interface ResolvedSky {
  sky: Sky;
  /** Images that are held and not at hand. */
  missing: string[];
  /** Share that has no stars of ours: skies that are painted, and images. */
  starless: number;
}

/**
 * The sky of a moment without fog: painted skies and images with their shares, the air for the rest, and images of stars behind it.
 *
 * @param night how the stars stand, and what the air's sky is multiplied by at night
 * @param sunOverClouds the main light as it would be without clouds; asked for only where clouds lie over a painted sky
 */
export function resolveSky(
  held: readonly { holds: Holds; share: number }[],
  airSky: AirSky,
  night: { turn: StarTurn; gain: number },
  images: SkyImages,
  sunOverClouds: () => SunLight | undefined,
): ResolvedSky {
  const missing: string[] = [];
  const sky: Sky = [];
  const behind: Sky = [];
  const { northDeg } = night.turn;
  let saturation = held.length > 0 ? 0 : 1;
  for (const { holds, share } of held) {
    saturation += share * (holds.skySaturation ?? 1);
    if (holds.sky) sky.push({ weight: share, sky: underClouds({ kind: 'bands', ...bandsRadianceOf(holds.sky) }, airSky, sunOverClouds) });
    const pixels = holds.image && images.get(holds.image.imageId);
    if (pixels && holds.image!.behind)
      behind.push({ weight: share, sky: behindAir(imageSky(holds.image!, pixels, 0, airSky), airSky, night.turn) });
    else if (pixels) sky.push({ weight: share, sky: imageSky(holds.image!, pixels, northDeg, airSky) });
    else if (holds.image) missing.push(holds.image.imageId);
  }
  const painted = sky.reduce((sum, part) => sum + part.weight, 0);
  if (painted < 1) sky.push({ weight: (1 - painted) * night.gain, sky: airSky });
  const starless = painted + behind.reduce((sum, part) => sum + part.weight, 0);
  const all = [...sky, ...behind];
  return { sky: saturation === 1 ? all : all.map((part) => ({ ...part, saturation })), missing, starless };
}

/** An image of stars behind an air, turned about the upright axis first where it is held so. */
const behindAir = (image: ImageSky, { air, heightM, clouds }: AirSky, turn: StarTurn): SkyPart['sky'] => ({
  kind: 'behind',
  image,
  turn: { ...turn, turnDeg: turn.turnDeg - image.turnDeg },
  depth: zenithDepth(air, heightM),
  ...(clouds && clouds.clouds.cover > 0 ? { clouds } : {}),
});

/** A painted sky under the clouds of its moment, which are lit by it and by the sun. */
function underClouds(bands: BandsSky, { air, clouds }: AirSky, sunOverClouds: () => SunLight | undefined): SkyPart['sky'] {
  if (!clouds || clouds.clouds.cover <= 0) return bands;
  const behind: Sky = [{ weight: 1, sky: bands }];
  const sun = sunOverClouds();
  const own = groundIlluminance(behind);
  const rise = Math.max(0, sun?.direction[1] ?? 0);
  const above = own.map((v, c) => Math.max(0, v) + (sun?.illuminance[c] ?? 0) * rise) as Rgb;
  const light = { above, sun: sun?.direction ?? UP, direct: sun?.illuminance ?? NO_LIGHT, ground: air.groundAlbedo };
  return { kind: 'clouded', behind, clouds, light };
}
const UP: Vec3 = [0, 1, 0];
const NO_LIGHT: Rgb = [0, 0, 0];

/** Suns and sky as they light a level under a layer of fog; as they are where there is none. */
export function underVeil(suns: SunLight[], sky: Sky, veil: Veil | null): { suns: SunLight[]; sky: Sky } {
  if (!veil) return { suns, sky };
  return {
    suns: suns.map((sun) => ({ ...sun, illuminance: scaleRgb(sun.illuminance, throughVeil(veil, sun.direction[1])) })),
    sky: [{ weight: 1, sky: { kind: 'veiled', behind: sky, veil } }],
  };
}
