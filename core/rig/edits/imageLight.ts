import { ev100FromIlluminance } from '../../units';
import { DEFAULT_IMAGE, fixedExposure } from '../document/defaults';
import type { Cue } from '../document/types';

/** The sun that was found in a sky image, by the image's own directions. */
export interface SunOfImage {
  azimuthDeg: number;
  elevationDeg: number;
  /** On a plane that faces it. */
  lux: number;
  /** Null where its colour is that of no glowing body. */
  kelvin: number | null;
}

/** What a sky image lights with: all of it on level ground, lux, and its sun where it has one. */
export interface LightOfImage {
  id: string;
  illuminanceLux: number;
  sun: SunOfImage | null;
}

/** Which parts of an image's light a cue takes; its sky it always has. */
export interface TakenLight {
  sun: boolean;
  exposure: boolean;
}

/** Gives a cue an image for its sky; what it holds of another image stays (its level, tint and so on). */
export function holdImage(cue: Cue, image: Pick<LightOfImage, 'id'>): void {
  delete cue.holds.sky;
  cue.holds.image = { ...(cue.holds.image ?? DEFAULT_IMAGE), imageId: image.id };
}

const wrap = (deg: number) => ((deg % 360) + 360) % 360;

/**
 * Takes the image's sun out of it and gives it to the cue: where it stands in the turned image, as strong as it is at the image's
 * level. Light is never counted twice.
 *
 * @param gain what the image's own radiances are multiplied by
 */
export function takeImageSun(cue: Cue, sun: SunOfImage, gain: number): void {
  cue.holds.image!.sun = 'taken';
  cue.holds.sun = {
    ...cue.holds.sun,
    azimuthDeg: Number(wrap(sun.azimuthDeg + cue.holds.image!.yawDeg).toFixed(2)) % 360,
    elevationDeg: Number(sun.elevationDeg.toFixed(2)),
    illuminanceLux: Math.min(1e7, Number((sun.lux * gain).toPrecision(5))),
    ...(sun.kelvin ? { colorK: Math.min(20_000, Math.max(1000, Math.round(sun.kelvin))) } : {}),
  };
}

/** Turns the image so that its sun stands over the azimuth of the cue's. */
export const yawToSun = (sun: SunOfImage, azimuthDeg: number): number => Number(wrap(azimuthDeg - sun.azimuthDeg).toFixed(2)) % 360;

/** The exposure that an incident-light meter on open ground gives an image's light, EV100 in thirds. */
export const exposureOfImage = ({ illuminanceLux }: Pick<LightOfImage, 'illuminanceLux'>): number =>
  Number((Math.round(Math.min(25, Math.max(-10, ev100FromIlluminance(Math.max(1e-6, illuminanceLux)))) * 3) / 3).toFixed(3));

/**
 * Lights a cue by an image: its sky at its own level, its sun as the cue's own, taken out of the image, and an exposure for both. An image
 * without a sun puts the cue's out, so that none shines besides it.
 */
export function lightByImage(cue: Cue, image: LightOfImage, take: TakenLight): void {
  holdImage(cue, image);
  cue.holds.image!.level = { by: 'itself' };
  if (take.sun && image.sun) takeImageSun(cue, image.sun, 1);
  else if (take.sun) cue.holds.sun = { ...cue.holds.sun, illuminanceLux: 0 };
  else cue.holds.image!.sun = 'left';
  if (take.exposure) cue.holds.exposure = fixedExposure(exposureOfImage(image));
}
