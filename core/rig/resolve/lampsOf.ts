import { aimOf, lampFrame, type Lamp, type LampMotion, type LampOutput } from '../../lamps';
import { turnBy, wrapDegrees } from '../../units';
import type { Fixture, PlacedFixture, Rig } from '../document/types';

/** A lamp as it stands in the level: one of its own, or one of a placed fixture's. */
export interface StandingLamp extends Lamp {
  /** The copy it belongs to. */
  placedId: string | null;
}

const scaled = (output: LampOutput, share: number): LampOutput => {
  if (output.by === 'lumens') return { by: 'lumens', lumens: output.lumens * share };
  return output.by === 'candela' ? { by: 'candela', candela: output.candela * share } : { by: 'profile', gain: output.gain * share };
};

const isUpright = ({ turnDeg, tiltDeg, rollDeg }: PlacedFixture) => turnDeg === 0 && tiltDeg === 0 && rollDeg === 0;

/** A motion of a fixture's lamp as its copy has it: about the upright axis of the level, with its ways turned as the copy is. */
function turnedMotion(motion: LampMotion | null, copy: PlacedFixture): LampMotion | null {
  if (motion?.as === 'path') return { ...motion, through: motion.through.map((p) => turnBy(p, copy)) };
  return motion?.as === 'swing' ? { ...motion, azimuthDeg: wrapDegrees(motion.azimuthDeg + copy.turnDeg) } : motion;
}

/** The lamps of one placed copy, in level space. Their ids are `copy.lamp`. */
export function lampsOfCopy(copy: PlacedFixture, fixture: Fixture): StandingLamp[] {
  return fixture.lamps.map((lamp) => {
    const at = turnBy(lamp.at, copy);
    const { forward, right } = lampFrame(lamp.aim);
    return {
      ...lamp,
      id: `${copy.id}.${lamp.id}`,
      name: fixture.lamps.length > 1 ? `${copy.name}, ${lamp.name}` : copy.name,
      at: [at[0] + copy.at[0], at[1] + copy.at[1], at[2] + copy.at[2]],
      aim: isUpright(copy) ? lamp.aim : aimOf({ forward: turnBy(forward, copy), right: turnBy(right, copy) }),
      output: copy.level === 1 ? lamp.output : scaled(lamp.output, copy.level),
      circuitId: copy.circuitId ?? lamp.circuitId,
      motion: isUpright(copy) ? lamp.motion : turnedMotion(lamp.motion, copy),
      placedId: copy.id,
    };
  });
}

/** Every lamp that stands in the level: those of its own first, then those of placed fixtures. */
export function lampsOf({ lamps, fixtures, placed }: Pick<Rig, 'lamps' | 'fixtures' | 'placed'>): StandingLamp[] {
  const byId = new Map(fixtures.map((f) => [f.id, f]));
  return [...lamps.map((lamp) => ({ ...lamp, placedId: null })), ...placed.flatMap((copy) => lampsOfCopy(copy, byId.get(copy.fixtureId)!))];
}
