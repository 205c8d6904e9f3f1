import { DEG, Failure, chromaticity, rgbFromHex, rgbFromKelvin, type Rgb } from '../units';
import { measuredFlux, measuredIntensity, spotShare, type Intensity } from './distribution';
import { readIes, type IesFile } from './readIes';
import type { Lamp, LampShape, Profile } from './types';

/** What a lamp gives, seen from far enough away. */
export interface Emission {
  /** Lumens in all. */
  flux: number;
  /** Highest intensity, candela. */
  peak: number;
  /** Candela towards a direction in the lamp's frame. */
  intensity: Intensity;
  /** Linear Rec. 709 of luminance 1. */
  color: Rgb;
}

const read = new Map<string, { file: IesFile; flux: number; peak: number }>();
/** Profiles that are kept read: more than any rig has at work at once. */
const KEPT = 64;

/** A profile, read once. Throws as {@link readIes} does. */
export function readProfile({ ies }: Pick<Profile, 'ies'>): { file: IesFile; flux: number; peak: number } {
  let known = read.get(ies);
  if (!known) {
    const file = readIes(ies);
    known = { file, flux: measuredFlux(file), peak: file.candela.reduce((a, b) => Math.max(a, b), 0) };
    if (read.size >= KEPT) read.delete(read.keys().next().value!);
    read.set(ies, known);
  }
  return known;
}

/** Intensity of a shape over some strength, that strength's flux and its peak; all in proportion. */
function unitEmission(shape: LampShape, profiles: readonly Profile[]): { intensity: Intensity; flux: number; peak: number } {
  switch (shape.kind) {
    case 'point':
      return { intensity: () => 1, flux: 4 * Math.PI, peak: 1 };
    // A diffuse cylinder shows its side as the sine of the angle to its axis: flux = pi^2 x peak.
    case 'tube':
      return { intensity: (right) => Math.sqrt(Math.max(0, 1 - right * right)), flux: Math.PI ** 2, peak: 1 };
    // Lambert's law: flux = pi x peak.
    case 'panel':
      return { intensity: (_, __, forward) => Math.max(0, forward), flux: Math.PI, peak: 1 };
    case 'spot': {
      const intensity: Intensity = (_, __, forward) => spotShare(Math.acos(Math.max(-1, Math.min(1, forward))) / DEG, shape);
      return { intensity, flux: spotFlux(shape), peak: 1 };
    }
    case 'measured': {
      const profile = profiles.find((p) => p.id === shape.profileId);
      if (!profile)
        throw new Failure('bad-input', `There is no profile "${shape.profileId}" on the shelf.`, 'Choose another for the lamp.');
      const { file, flux, peak } = readProfile(profile);
      return { intensity: measuredIntensity(file), flux, peak };
    }
  }
}

/** Flux of a spot of 1 cd: Simpson's rule over the fall, which is a cubic times a sine, and the closed form of the cone inside. */
function spotFlux(shape: Extract<LampShape, { kind: 'spot' }>): number {
  const [inner, outer] = [shape.innerDeg * DEG, shape.outerDeg * DEG];
  const STEPS = 64;
  const step = (outer - inner) / STEPS;
  let fall = 0;
  for (let i = 0; i <= STEPS; i++) {
    const angle = inner + i * step;
    const weight = i === 0 || i === STEPS ? 1 : i % 2 ? 4 : 2;
    const t = 1 - i / STEPS;
    fall += weight * (t + shape.softness * (t * t * (3 - 2 * t) - t)) * Math.sin(angle);
  }
  return 2 * Math.PI * (1 - Math.cos(inner) + (fall * step) / 3);
}

/** Linear Rec. 709 of luminance 1 for a lamp's colour. */
export const lampColor = ({ color }: Pick<Lamp, 'color'>): Rgb =>
  color.by === 'kelvin' ? rgbFromKelvin(color.kelvin) : chromaticity(rgbFromHex(color.hex));

/** What a lamp gives. Throws a `bad-input` {@link Failure} for a profile that is missing or cannot be read. */
export function emissionOf(lamp: Pick<Lamp, 'shape' | 'output' | 'color'>, profiles: readonly Profile[]): Emission {
  const unit = unitEmission(lamp.shape, profiles);
  const { output } = lamp;
  const gain = output.by === 'profile' ? output.gain : output.by === 'lumens' ? output.lumens / unit.flux : output.candela / unit.peak;
  return {
    flux: unit.flux * gain,
    peak: unit.peak * gain,
    intensity: (right, up, forward) => unit.intensity(right, up, forward) * gain,
    color: lampColor(lamp),
  };
}

/**
 * Share of a lamp's light that its reach lets through at a distance: 1 without one, else (1 - (d / reach)^4)^2, which leaves near
 * things as they are and ends without an edge.
 */
export function reachShare(distanceM: number, reachM: number | null): number {
  if (reachM === null) return 1;
  const t = distanceM / reachM;
  return t >= 1 ? 0 : (1 - t ** 4) ** 2;
}
