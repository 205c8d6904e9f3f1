import type { StemName } from '../../core/rig';
import { useListening, type Listening, type PictureView } from '../viewport/listening';

export const STEM_LABELS: Readonly<Record<StemName, string>> = {
  sun: 'Sun',
  bounce: 'Sun bounce',
  sky: 'Sky',
  glow: 'Glow',
  lamps: 'Lamps',
  lampBounce: 'Lamp bounce',
};

const without = (list: readonly StemName[], stem: StemName) => list.filter((s) => s !== stem);
const flipped = (list: readonly StemName[], stem: StemName) => (list.includes(stem) ? without(list, stem) : [...list, stem]);

/** Hears a stem alone, beside others that are; or all again. */
export const flipSolo = (stem: StemName) => useListening.setState(({ solo }: Listening) => ({ solo: flipped(solo, stem) }));
/** Leaves a stem out, or takes it in again. */
export const flipMute = (stem: StemName) => useListening.setState(({ muted }: Listening) => ({ muted: flipped(muted, stem) }));

/** What the picture may show, and what each is for. */
export const VIEWS: { value: PictureView; label: string; hint: string }[] = [
  { value: 'picture', label: 'Picture', hint: 'As it looks' },
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
  { value: 'noise', label: 'Noise', hint: 'Noise left before filtering, as a share of the light: white is half of it' },
];
