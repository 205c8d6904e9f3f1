import { mixRgb } from '../../units';
import type { Dimmer, Rig } from '../document/types';
import { dimmerGain } from '../resolve/circuits';
import { fadeLighting } from '../resolve/fade';
import { glowLights } from '../resolve/glows';
import { NO_IMAGES, type SkyImages } from '../resolve/heldImage';
import type { Lighting } from '../resolve/lighting';
import { cueById, resolveCue, resolveHour } from '../resolve/resolve';
import { rigOnDay } from '../resolve/rigOnDay';
import { callsInOrder, keptCircuits, type CallState } from './callState';

/**
 * The light of a game whose calls stand so: the base, and over it each call that is seen, the lowest first, in its share: its cue as a fade does
 * it, then the circuits that it switches.
 */
export function callLight(rig: Rig, state: CallState, images: SkyImages = NO_IMAGES): Lighting {
  const today = rigOnDay(rig, state.day);
  const stands = today.cues.find((c) => c.id === state.baseId);
  const base = stands ? resolveCue(today, stands, images) : resolveHour(today, state.hour, images);
  const switched = (light: Lighting, dimmers: Record<string, Dimmer>, share: number): Lighting => {
    if (Object.keys(dimmers).length === 0) return light;
    const circuits = light.circuits
      .filter(({ id, of }) => id === of)
      .map((circuit) => {
        const dimmer = dimmers[circuit.id];
        return dimmer ? { ...circuit, gain: mixRgb(circuit.gain, dimmerGain(dimmer), share) } : circuit;
      });
    return { ...light, circuits: [...circuits, ...glowLights(today, circuits)] };
  };
  return callsInOrder(rig, state).reduce(
    (light, { call, standing: { share } }) => {
      if (share === 0) return light;
      const called = call.cueId === null ? light : fadeLighting(light, resolveCue(today, cueById(today, call.cueId), images), share);
      return switched(called, call.circuits, share);
    },
    switched(base, keptCircuits(rig, state), 1),
  );
}
