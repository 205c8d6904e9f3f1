import { rebuildSun } from '../core/image';
import { defaultRig, resolveCue, type Cue, type Lighting, type Rig } from '../core/rig';
import { paintPanorama, type Panorama } from '../core/sky';
import { kelvinFromRgb, luminance } from '../core/units';

/** A computed sky as an image, with the discs of what shines in it, and the light that it was computed from. */
export function computedSky(width: number, change: (rig: Rig, cue: Cue) => void): { image: Panorama; lighting: Lighting } {
  const rig = defaultRig();
  const cue = rig.cues[0]!;
  change(rig, cue);
  const lighting = resolveCue(rig, cue);
  const image = lighting.suns.reduce(
    (sky, { direction, illuminance }) =>
      rebuildSun(sky, { direction, lux: 0 }, luminance(illuminance), kelvinFromRgb(illuminance) ?? undefined),
    paintPanorama(lighting.sky, width),
  );
  return { image, lighting };
}
