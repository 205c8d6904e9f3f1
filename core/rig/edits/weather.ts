import { FAIR_WEATHER, SHIPPED_WEATHERS, type MaterialRule, type NamedWeather, type Weather } from '../../weather';
import type { Rig, WeatherTurn } from '../document/types';
import { cueOf } from './holders';

type WeatherRig = Pick<Rig, 'weathers' | 'materials' | 'cues'>;

/** The sets of weather that there are: those that Basil brings, and the project's own. */
export const weatherSets = ({ weathers }: Pick<Rig, 'weathers'>): readonly NamedWeather[] => [...SHIPPED_WEATHERS, ...weathers];

/** Keeps a weather as a set of the project's own: a copy, which later changes leave as it is. */
export function keepWeather(rig: WeatherRig, id: string, name: string, weather: Weather): void {
  rig.weathers.push({ id, name, weather: { ...FAIR_WEATHER, ...weather } });
}

/** Forgets a set of the project's own. */
export function forgetWeather(rig: WeatherRig, id: string): void {
  rig.weathers = rig.weathers.filter((w) => w.id !== id);
}

/** Lets another weather come after a cue, or none. */
export function setWeatherTurn(rig: WeatherRig, cueId: string, turn: WeatherTurn | null): void {
  const { holds } = cueOf(rig, cueId);
  if (turn) holds.weatherTurn = turn;
  else delete holds.weatherTurn;
}

/** Changes a rule of the materials, or adds it. */
export function setMaterialRule(rig: WeatherRig, rule: MaterialRule): void {
  const at = rig.materials.findIndex((r) => r.id === rule.id);
  if (at < 0) rig.materials.push(rule);
  else rig.materials[at] = rule;
}

export function removeMaterialRule(rig: WeatherRig, id: string): void {
  rig.materials = rig.materials.filter((r) => r.id !== id);
}
