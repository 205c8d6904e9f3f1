/** Fog as it stands at a moment: thickest at its base, thinning upwards. */
export interface Fog {
  /** How far a black object can be seen at the base, metres; no fog where it is infinite. */
  visibilityM: number;
  /** Height of the base in the level, metres: under it the fog is as thick as there. */
  baseM: number;
  /** Height over which it thins to 1/e, metres; the same at all heights where it is infinite. */
  fallOffM: number;
  /** How far from the eye it begins, metres. */
  startM: number;
  /** The most that it hides of what is far away, 0..1. */
  mostHidden: number;
  /** How far forward it scatters: -1..1, 0 evenly. */
  forward: number;
  /** What makes it thicker over a height of the level; nothing where it is not given. */
  above?: FogAbove | null;
}

/** A height over which fog is thicker: its extinction there is (1 + gain) times as much, and goes over within some height below. */
export interface FogAbove {
  heightM: number;
  /** Under the height, the gain falls to 1/e over this. */
  softM: number;
  /** 0 or more. */
  gain: number;
}

/** Contrast of a black object against the fog that is left at the visibility: 2 % (Koschmieder 1924; WMO, 5 % for the optical range). */
const LEAST_CONTRAST = 0.02;

/** Extinction per metre of a fog in which one sees so far: ln 50 / V (Koschmieder 1924). */
export const extinctionOf = (visibilityM: number): number => -Math.log(LEAST_CONTRAST) / visibilityM;

/** Extinction per metre at a height of the level. */
export const extinctionAt = (fog: Fog, heightM: number): number =>
  thinnedAt(fog, heightM) * (1 + (fog.above ? fog.above.gain * Math.exp(-Math.max(0, fog.above.heightM - heightM) / fog.above.softM) : 0));

/** The same without what is thicker above. */
const thinnedAt = ({ visibilityM, baseM, fallOffM }: Fog, heightM: number): number =>
  extinctionOf(visibilityM) * Math.exp(-Math.max(0, heightM - baseM) / fallOffM);

/** (1 - exp(-x)) / x, and 1 for 0. */
const decayed = (x: number): number => (Math.abs(x) < 1e-9 ? 1 - x / 2 : -Math.expm1(-x) / x);

/**
 * Optical depth of a straight way, its start distance left out of account: extinction thins exponentially over the base, so that a way of
 * length d that rises by h from a height y has beta(y) d (1 - exp(-h / H)) / (h / H), and beta d under the base.
 *
 * @param fromM height that it starts at
 * @param rise metres that it rises for each of its length, -1..1
 * @param lengthM of the way; may be infinite where it rises
 */
export function opticalDepth(fog: Fog, fromM: number, rise: number, lengthM: number): number {
  if (!(lengthM > 0) || fog.visibilityM === Infinity) return 0;
  return thinnedDepth(fog, fromM, rise, lengthM) + (fog.above ? depthOfAbove(fog, fog.above, fromM, rise, lengthM) : 0);
}

function thinnedDepth(fog: Fog, fromM: number, rise: number, lengthM: number): number {
  const { baseM, fallOffM } = fog;
  // Cut where it passes the base.
  const cut = rise === 0 ? Infinity : (baseM - fromM) / rise;
  const isUnder = fromM < baseM || (fromM === baseM && rise < 0);
  if (cut > 0 && cut < lengthM) {
    const first = isUnder ? extinctionOf(fog.visibilityM) * cut : over(fog, fromM, rise, cut);
    const second = isUnder ? over(fog, baseM, rise, lengthM - cut) : extinctionOf(fog.visibilityM) * (lengthM - cut);
    return first + second;
  }
  return isUnder || fallOffM === Infinity ? extinctionOf(fog.visibilityM) * lengthM : over(fog, fromM, rise, lengthM);
}

/** Optical depth of a way that stays over the base. */
function over(fog: Fog, fromM: number, rise: number, lengthM: number): number {
  const perM = rise / fog.fallOffM;
  if (lengthM === Infinity) return perM > 0 ? thinnedAt(fog, fromM) / perM : Infinity;
  return thinnedAt(fog, fromM) * lengthM * decayed(perM * lengthM);
}

/**
 * Optical depth of what is thicker above. Its extinction is an exponential of the height in each piece between the base and the height, and
 * each piece is integrated from its thicker end.
 */
function depthOfAbove(fog: Fog, above: FogAbove, fromM: number, rise: number, lengthM: number): number {
  const { baseM, fallOffM } = fog;
  const extra = (heightM: number) => above.gain * thinnedAt(fog, heightM) * Math.exp(-Math.max(0, above.heightM - heightM) / above.softM);
  const passes = (heightM: number) => (rise === 0 ? 0 : Math.min(lengthM, Math.max(0, (heightM - fromM) / rise)));
  const cuts = [0, Math.min(passes(baseM), passes(above.heightM)), Math.max(passes(baseM), passes(above.heightM)), lengthM];
  let depth = 0;
  for (let i = 0; i < 3; i++) {
    const [start, end] = [cuts[i]!, cuts[i + 1]!];
    if (!(end > start)) continue;
    const middle = fromM + rise * (end === Infinity ? start + 1 : (start + end) / 2);
    const perM = rise * ((middle > baseM ? 1 / fallOffM : 0) - (middle < above.heightM ? 1 / above.softM : 0));
    if (end === Infinity) depth += perM > 0 ? extra(fromM + rise * start) / perM : Infinity;
    else depth += extra(fromM + rise * (perM > 0 ? start : end)) * (end - start) * decayed(Math.abs(perM) * (end - start));
  }
  return depth;
}

/** Optical depth that the eye looks through on a straight way: the fog begins at its start distance. */
export function depthSeen(fog: Fog, eyeM: number, rise: number, distanceM: number): number {
  return opticalDepth(fog, eyeM + rise * fog.startM, rise, distanceM - fog.startM);
}

/**
 * Share of what lies behind an optical depth that the eye still gets. Thin fog hides as much as its depth says; what the artist lets it hide at
 * most is come near to without an edge: 1 - m (1 - exp(-depth / m)).
 */
export function seenThrough({ mostHidden: m }: Fog, depth: number): number {
  return m <= 0 ? 1 : 1 + m * Math.expm1(-depth / m);
}

/** How far away only a share of what is looked at reaches the eye, metres; infinite where that much always does. */
export function distanceSeen(fog: Fog, eyeM: number, rise: number, share: number): number {
  const at = (distance: number) => seenThrough(fog, depthSeen(fog, eyeM, rise, distance));
  let far = Math.max(1, fog.startM);
  while (at(far) > share) {
    far *= 2;
    if (far > 1e9) return Infinity;
  }
  let near = 0;
  for (let i = 0; i < 60; i++) {
    const middle = (near + far) / 2;
    if (at(middle) > share) near = middle;
    else far = middle;
  }
  return far;
}

/** What people call a visibility, at sea level (WMO for fog and mist). */
export function visibilityWord(visibilityM: number): string {
  const words: [below: number, word: string][] = [
    [50, 'dense fog'],
    [200, 'thick fog'],
    [1000, 'fog'],
    [2000, 'mist'],
    [5000, 'haze'],
    [20_000, 'light haze'],
    [50_000, 'clear'],
  ];
  return words.find(([below]) => visibilityM < below)?.[1] ?? 'very clear';
}
