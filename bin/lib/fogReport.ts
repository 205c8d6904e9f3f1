import { depthAbove, depthSeen, distanceSeen, extinctionOf, seenThrough, visibilityWord, type Fog } from '../../core/fog';

/** Distances that a report tells what is seen at, metres. */
const DISTANCES = [10, 25, 50, 100, 250, 500, 1000, 2500, 5000, 10_000] as const;
/** Shares of what is looked at that a report tells the distances of. */
const SHARES = [0.5, 0.1, 0.02] as const;

const rounded = (v: number) => Number(v.toPrecision(5));
const orNull = (v: number) => (v === Infinity ? null : rounded(v));

/** What a fog does, in numbers: along level looks from a height of the eye, and to a sun straight above. */
export function fogReport(fog: Fog, eyeM: number) {
  const visibleAt = (distanceM: number) => seenThrough(fog, depthSeen(fog, eyeM, 0, distanceM));
  return {
    visibilityM: fog.visibilityM,
    word: visibilityWord(fog.visibilityM),
    extinctionPerM: rounded(extinctionOf(fog.visibilityM)),
    eyeM,
    /** Where only so much of what is looked at reaches the eye; null where that much always does. */
    reaches: SHARES.map((share) => ({ share, distanceM: orNull(distanceSeen(fog, eyeM, 0, share)) })),
    seen: DISTANCES.map((distanceM) => ({ distanceM, share: rounded(visibleAt(distanceM)) })),
    /** Optical depth over the eye straight up; null where the fog has no top. */
    depthAbove: fog.fallOffM === Infinity ? null : rounded(depthAbove(fog, eyeM, 1)),
  };
}
