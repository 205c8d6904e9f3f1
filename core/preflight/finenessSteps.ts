import type { FormPoints, ObjectForms } from '../level';
import { percent } from '../units';
import type { PreflightLine } from './preflight';

/** Share of its mean light by which a coarser form differs before the step from one to the other is seen. */
const SEEN = 0.05;

/** Luminance of the light on a lightmap at a coordinate; null where there is none. */
export type LightOnMap = (map: number, u: number, v: number) => number | null;

/** Mean light of a form over its surface; null where none of it is lit from a lightmap. */
function meanLight({ places, areas }: FormPoints, lightOn: LightOnMap): number | null {
  let [sum, area] = [0, 0];
  areas.forEach((own, i) => {
    const light = lightOn(places[i * 3]!, places[i * 3 + 1]!, places[i * 3 + 2]!);
    if (light === null) return;
    sum += own * light;
    area += own;
  });
  return area > 0 ? sum / area : null;
}

/** Coarser forms whose light, taken from the finest, has another mean than that: it is seen when one goes over into the other. */
export function finenessSteps(objects: readonly ObjectForms[], lightOn: LightOnMap, cue: string): PreflightLine[] {
  return objects.flatMap(({ finest, coarser }) => {
    const own = meanLight(finest, lightOn);
    if (own === null || own <= 0) return [];
    return coarser.flatMap((form): PreflightLine[] => {
      const step = (meanLight(form, lightOn) ?? own) / own - 1;
      if (Math.abs(step) < SEEN) return [];
      const than = `${percent(Math.abs(step))} ${step > 0 ? 'lighter' : 'darker'} than ${finest.name}`;
      const text = `${form.name} is ${than} in ${cue}: the step is seen when one goes over into the other. Bring their shapes closer together, or change over farther away.`;
      return [{ code: 'fineness', object: form.name, text, atM: null }];
    });
  });
}
