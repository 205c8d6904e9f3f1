import { movedLamp } from '../../lamps';
import { scaleRgb, seedOf } from '../../units';
import type { Circuit, Rig } from '../document/types';
import type { CircuitGain } from './circuits';
import { flickerGain } from './flicker';
import type { Lighting } from './lighting';

/** Whether some circuit of a rig flickers, or some lamp of it moves. */
export const isInMotion = ({ circuits, lamps, fixtures }: Pick<Rig, 'circuits' | 'lamps' | 'fixtures'>): boolean =>
  circuits.some((c) => c.flicker !== null) || [lamps, ...fixtures.map((f) => f.lamps)].some((list) => list.some((l) => l.motion !== null));

/** A lighting with its circuits as they flicker, and its lamps where they are, at a moment of the game's own time; the same object where nothing changes in time. */
export function inMotion(lighting: Lighting, circuits: readonly Circuit[], seconds: number): Lighting {
  const gains = new Map(circuits.flatMap(({ id, flicker }) => (flicker ? [[id, flickerGain(flicker, seconds, seedOf(id))] as const] : [])));
  const moves = lighting.lamps.some((l) => l.motion);
  if (gains.size === 0 && !moves) return lighting;
  const dimmed = (c: CircuitGain, gain: number): CircuitGain => ({
    ...c,
    gain: scaleRgb(c.gain, gain),
    lamps: c.lamps && new Map([...c.lamps].map(([id, own]) => [id, scaleRgb(own, gain)])),
  });
  return {
    ...lighting,
    lamps: moves ? lighting.lamps.map((l) => (l.motion ? { ...movedLamp(l, seconds), placedId: l.placedId } : l)) : lighting.lamps,
    circuits: lighting.circuits.map((c) => (gains.has(c.of) ? dimmed(c, gains.get(c.of)!) : c)),
  };
}
