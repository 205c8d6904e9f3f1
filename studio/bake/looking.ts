import type { NoiseKind } from '../../core/bake';
import type { StemName, Vantage } from '../../core/rig';
import type { Vec3 } from '../../core/units';
import { useListening, type Listening, type PictureView } from '../viewport/mix/listening';

export const STEM_LABELS: Readonly<Record<StemName, string>> = {
  sun: 'Sun',
  bounce: 'Sun bounce',
  sky: 'Sky',
  skyBounce: 'Sky bounce',
  glow: 'Glow',
  glowBounce: 'Glow bounce',
  lamps: 'Lamps',
  lampBounce: 'Lamp bounce',
};

const flipped = <T>(list: readonly T[], one: T): T[] => (list.includes(one) ? list.filter((s) => s !== one) : [...list, one]);

/** Hears a stem alone, beside others that are; or all again. */
export const flipSolo = (stem: StemName) => useListening.setState(({ solo }: Listening) => ({ solo: flipped(solo, stem) }));
/** Leaves a stem out, or takes it in again. */
export const flipMute = (stem: StemName) => useListening.setState(({ muted }: Listening) => ({ muted: flipped(muted, stem) }));

/** Hears a circuit alone, beside others that are; or all again. */
export const flipSoloCircuit = (id: string) => useListening.setState(({ soloCircuits }) => ({ soloCircuits: flipped(soloCircuits, id) }));
/** Silences a circuit, or hears it again. */
export const flipMuteCircuit = (id: string) =>
  useListening.setState(({ mutedCircuits }) => ({ mutedCircuits: flipped(mutedCircuits, id) }));

/** Hears all stems and circuits. */
export const hearAll = () => useListening.setState({ solo: [], muted: [], soloCircuits: [], mutedCircuits: [] });

const keyOf = (projectId: string) => `basil heard circuits ${projectId}`;
const idsIn = (value: unknown): string[] => (Array.isArray(value) ? value.filter((id): id is string => typeof id === 'string') : []);

/** Keeps which circuits of a project are heard in this browser, and takes that up from an earlier visit; answers how to stop. */
export function keepHeardCircuits(projectId: string): () => void {
  let kept: { solo?: unknown; muted?: unknown } = {};
  try {
    kept = (JSON.parse(localStorage.getItem(keyOf(projectId)) ?? '{}') ?? {}) as typeof kept;
  } catch {
    // What cannot be read is as if it were not there.
  }
  useListening.setState({ soloCircuits: idsIn(kept.solo), mutedCircuits: idsIn(kept.muted) });
  return useListening.subscribe(({ soloCircuits, mutedCircuits }, before) => {
    if (soloCircuits === before.soloCircuits && mutedCircuits === before.mutedCircuits) return;
    try {
      localStorage.setItem(keyOf(projectId), JSON.stringify({ solo: soloCircuits, muted: mutedCircuits }));
    } catch {
      // A browser without room keeps it as long as the page is open.
    }
  });
}

/** What the picture may show, and what each is for. */
export const VIEWS: { value: PictureView; label: string; hint: string }[] = [
  { value: 'picture', label: 'Picture', hint: 'As it looks' },
  { value: 'bench', label: 'Bench light', hint: 'Plain, even light to build by: no bake, no shadows, a white wall is white everywhere' },
  { value: 'light', label: 'Light only', hint: 'Every surface white: the light without their colours' },
  { value: 'albedo', label: 'Albedo', hint: 'The surfaces’ own colours, lit alike' },
  { value: 'occlusion', label: 'Open sky', hint: 'How much of an even sky reaches each place, bounces included: white is all of it' },
  {
    value: 'direction',
    label: 'Direction',
    hint: 'Where most of the sun’s and sky’s light comes from: red the east, green above, blue the south',
  },
  { value: 'density', label: 'Density', hint: 'Fields of 4 × 4 lightmap texels' },
  { value: 'gathered', label: 'Gathered', hint: 'White where texels were gathered, black where they lie inside something and are filled' },
  { value: 'noise all', label: 'Noise', hint: 'Noise left before filtering, as a share of the light: white is half of it' },
];

/** Views of the noise of one kind of light, which are chosen beside its figures. */
export const NOISE_OF: Readonly<Record<NoiseKind, { value: PictureView; hint: string }>> = {
  sky: { value: 'noise sky', hint: 'Noise of the sky’s light before filtering: white is half of it' },
  suns: { value: 'noise suns', hint: 'Noise of what the suns bounce, the noisiest of them, before filtering: white is half of the light' },
  lamps: { value: 'noise lamps', hint: 'Noise of what lamps and glowing surfaces bounce, before filtering: white is half of the light' },
};

/** The view of a proposal for densities, which is chosen beside its figures. */
const PROPOSED: { value: PictureView; hint: string } = { value: 'proposed', hint: 'Proposed densities beside the level’s own' };

/** What a view shows, in words. */
export const hintOf = (view: PictureView): string => [...VIEWS, ...Object.values(NOISE_OF), PROPOSED].find((v) => v.value === view)!.hint;

/** How far a place is looked at from, metres. */
const AWAY_M = 6;

/** Where to look at a place from: askew from above. */
export const vantageOn = ([x, y, z]: Readonly<Vec3>): Vantage => ({
  eye: [x + AWAY_M * 0.6, y + AWAY_M * 0.5, z + AWAY_M * 0.6],
  target: [x, y, z],
  fovDeg: 50,
});
