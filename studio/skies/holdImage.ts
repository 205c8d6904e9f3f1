import type { Draft } from 'immer';
import { DEFAULT_IMAGE, type Cue } from '../../core/rig';
import type { SkyImageView } from '../../core/api';
import type { TakenSun } from '../../core/image';

/** Gives a cue an image for its sky; what it holds of another image stays (its level, tint and so on). */
export function holdImage(cue: Draft<Cue>, image: Pick<SkyImageView, 'id'>): void {
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
export function takeSun(cue: Draft<Cue>, sun: TakenSun, gain: number): void {
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
export const yawToSun = (sun: TakenSun, azimuthDeg: number): number => Number(wrap(azimuthDeg - sun.azimuthDeg).toFixed(2)) % 360;
