import { emissionOf, extentOf, lampFrame, reachShare, type Lamp, type Profile } from '../lamps';
import { directionFromAngles, type Vec3 } from '../units';
import { lampsOf, resolveCue, type Rig, type StandingLamp } from '../rig';

/** Nearest surface of the level from a point: how far, and whether it is met from behind. Null where there is none. */
export type SurfaceCast = (from: Vec3, direction: Vec3) => { distanceM: number; back: boolean } | null;

/** Something about the lamps that would spoil the light, or cost what nobody sees. */
export interface LampFault {
  code: 'inside' | 'too-near' | 'no-circuit' | 'idle-circuit' | 'same-spot' | 'reach-cuts' | 'too-many-live';
  /** In words, with a remedy. */
  text: string;
  /** Standing lamps that it is about. */
  lampIds: string[];
  /** The cue or circuit that it is about. */
  cueId?: string;
  circuitId?: string;
}

/** Lamps nearer to a surface than this, metres, are too near whatever their size. */
const NEAR_M = 0.05;
/** Lamps nearer to each other than this stand in one spot. */
const SAME_SPOT_M = 0.02;
/** Share of the flux that a reach may cut off. */
const MOST_CUT = 0.05;

/** Directions evenly over the sphere (a Fibonacci spiral). */
const AROUND: readonly Vec3[] = Array.from({ length: 48 }, (_, i) =>
  directionFromAngles((i * 137.50776) % 360, (Math.asin(1 - (2 * (i + 0.5)) / 48) * 180) / Math.PI),
);

const dot = (a: Readonly<Vec3>, b: Readonly<Vec3>) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** How near a surface may come to the middle of a lamp: its own thickness, not under 5 cm. */
const clearance = (lamp: StandingLamp) =>
  lamp.shape.kind === 'panel' ? NEAR_M : Math.max(NEAR_M, lamp.shape.kind === 'tube' ? 2 * lamp.shape.radiusM : extentOf(lamp));

/** What a lamp shines at, by even directions: how far away, and how strongly it shines there. */
function litAround(lamp: Lamp, profiles: readonly Profile[], cast: SurfaceCast) {
  const { intensity } = emissionOf(lamp, profiles);
  const { right, up, forward } = lampFrame(lamp.aim);
  return AROUND.flatMap((d) => {
    const hit = cast(lamp.at, d);
    return hit ? [{ ...hit, candela: intensity(dot(d, right), dot(d, up), dot(d, forward)) }] : [];
  });
}

function cutShare(lit: { distanceM: number; candela: number }[], reachM: number): number {
  const whole = lit.reduce((sum, h) => sum + h.candela, 0);
  const cut = lit.reduce((sum, h) => sum + h.candela * (1 - reachShare(h.distanceM, reachM)), 0);
  return whole > 0 ? cut / whole : 0;
}

/** Share of the light that a lamp would send onto the level which its reach cuts off; 0 without one. */
export const cutByReach = (lamp: Lamp, profiles: readonly Profile[], cast: SurfaceCast): number =>
  lamp.reachM === null ? 0 : cutShare(litAround(lamp, profiles, cast), lamp.reachM);

/** What the level says of one lamp: that it is inside of something, too near to it, or cut by its reach. */
export function surfaceFaults(lamp: StandingLamp, profiles: readonly Profile[], cast: SurfaceCast): LampFault[] {
  const about = { lampIds: [lamp.id] };
  const met = litAround(lamp, profiles, cast);
  if (met.length > 0 && met.filter((h) => h.back).length > met.length / 2)
    return [{ ...about, code: 'inside', text: `${lamp.name} is inside of something: move it out, or its light stays in there.` }];
  const faults: LampFault[] = [];
  // What a lamp is mounted on does not matter, only what it shines at.
  const lit = met.filter((h) => h.candela > 0);
  const near = lit.reduce((least, h) => Math.min(least, h.distanceM), Infinity);
  if (near < clearance(lamp))
    faults.push({
      ...about,
      code: 'too-near',
      text: `${lamp.name} shines at a surface ${(near * 100).toFixed(0)} cm away: move it off, or it glares there.`,
    });
  if (lamp.reachM !== null) {
    const cut = cutShare(lit, lamp.reachM);
    if (cut > MOST_CUT)
      faults.push({
        ...about,
        code: 'reach-cuts',
        text: `The reach of ${lamp.name} cuts off ${Math.round(100 * cut)} % of its light: let it reach farther.`,
      });
  }
  return faults;
}

/** Lamps that stand in one spot, each pair once; sorted along an axis, so that many lamps cost little. */
function sameSpots(lamps: readonly StandingLamp[]): LampFault[] {
  const sorted = [...lamps].sort((a, b) => a.at[0] - b.at[0]);
  const faults: LampFault[] = [];
  sorted.forEach((a, i) => {
    for (let k = i + 1; k < sorted.length && sorted[k]!.at[0] - a.at[0] < SAME_SPOT_M; k++) {
      const b = sorted[k]!;
      if (Math.hypot(a.at[1] - b.at[1], a.at[2] - b.at[2]) < SAME_SPOT_M && a.id.split('.')[0] !== b.id.split('.')[0])
        faults.push({ code: 'same-spot', lampIds: [a.id, b.id], text: `${a.name} and ${b.name} stand in one spot: take one away.` });
    }
  });
  return faults;
}

/** Looks the lamps over by themselves and by the level: {@link surfaceFaults} of each, and {@link rigFaults}. */
export const lampFaults = (rig: Rig, cast: SurfaceCast): LampFault[] => [
  ...lampsOf(rig).flatMap((lamp) => surfaceFaults(lamp, rig.profiles, cast)),
  ...rigFaults(rig),
];

/** What the rig alone says of its lamps: those without a circuit or in one spot, circuits that burn in no cue, cues with more live lamps than the budget. */
export function rigFaults(rig: Rig): LampFault[] {
  const lamps = lampsOf(rig);
  const faults = sameSpots(lamps);
  for (const lamp of lamps) {
    if (lamp.circuitId === null)
      faults.push({ code: 'no-circuit', lampIds: [lamp.id], text: `${lamp.name} is in no circuit, so it always burns: put it in one.` });
  }
  const burning = rig.cues.map((cue) => ({
    cue,
    gains: new Map(resolveCue(rig, cue).circuits.map((c) => [c.id, c.gain.some((v) => v > 0)])),
  }));
  for (const circuit of rig.circuits) {
    const own = lamps.filter((l) => l.circuitId === circuit.id).map((l) => l.id);
    if (own.length === 0 && rig.glows.every((g) => g.circuitId !== circuit.id))
      faults.push({
        code: 'idle-circuit',
        circuitId: circuit.id,
        lampIds: [],
        text: `Nothing is in the circuit ${circuit.name}: give it lamps, or take it away.`,
      });
    else if (!burning.some(({ gains }) => gains.get(circuit.id)))
      faults.push({
        code: 'idle-circuit',
        circuitId: circuit.id,
        lampIds: own,
        text: `${circuit.name} burns in no cue: switch it on in the dimmer plan, or take it away.`,
      });
  }
  const live = lamps.filter((l) => l.kept !== 'all');
  for (const { cue, gains } of burning) {
    const on = live.filter((l) => gains.get(l.circuitId ?? ''));
    if (on.length > rig.liveLamps)
      faults.push({
        code: 'too-many-live',
        cueId: cue.id,
        lampIds: on.map((l) => l.id),
        text: `${on.length} lamps burn live in ${cue.name}, and ${rig.liveLamps} are drawn at most: bake some, or raise the budget.`,
      });
  }
  return faults;
}
