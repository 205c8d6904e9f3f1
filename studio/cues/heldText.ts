import type { Dimmer, Exposure, HeldPath, Holds, Leaf, LeafPath, NamedAir, Rig, Trim } from '../../core/rig';
import { STEM_LABELS } from '../bake/looking';
import { readable } from '../desk/quantity';

const PARTS: Readonly<Record<keyof Holds, string>> = {
  sun: 'Sun',
  moon: 'Moon',
  sunLook: 'Sun as it is seen',
  moonLook: 'Moon as it is seen',
  weather: 'Weather',
  water: 'Water',
  weatherTurn: 'Turn of the weather',
  night: 'Night',
  sky: 'Painted sky',
  image: 'Sky image',
  clouds: 'Clouds',
  exposure: 'Exposure',
  airId: 'Air',
  dimmers: 'Circuit',
  objects: 'Object',
  variant: 'Material variant',
  looks: 'In place of',
  fog: 'Fog',
  volumes: 'Fog volume',
  grade: 'Grade',
  shadeEv: 'Shade',
  skySaturation: 'Colour of the sky',
  mix: 'Mix',
};

/** Units that names of values end in, longest first, and how they are written. */
const UNITS: readonly (readonly [ending: string, unit: string])[] = [
  ['PerMin', ' a minute'],
  ['CdM2', ' cd/m²'],
  ['Lux', ' lx'],
  ['Deg', '°'],
  ['Mps', ' m/s'],
  ['MmH', ' mm/h'],
  ['Km', ' km'],
  ['Ev', ' EV'],
  ['M', ' m'],
  ['K', ' K'],
  ['C', ' °C'],
];
const unitOf = (key: string) => UNITS.find(([ending]) => key.endsWith(ending) && key.length > ending.length);

/** The words that the name of a value is made of, without its unit. */
export function worded(key: string): string {
  const bare = key.slice(0, key.length - (unitOf(key)?.[0].length ?? 0));
  return bare.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`).replace('color', 'colour');
}

type Named = Pick<Rig, 'volumes' | 'circuits'>;
const nameIn = (list: readonly { id: string; name: string }[], id: string) => list.find((one) => one.id === id)?.name ?? id;

/** What a value that cues hold is called. */
export function heldLabel({ part, key }: HeldPath, { volumes, circuits }: Named): string {
  if (key === undefined) return PARTS[part];
  if (part === 'volumes') return `${PARTS.volumes} ${nameIn(volumes, key)}`;
  if (part === 'objects' || part === 'looks') return `${PARTS[part]} ${key}`;
  if (part === 'dimmers') return `${PARTS.dimmers} ${nameIn(circuits, key)}`;
  if (part === 'mix') return `${PARTS.mix}: ${STEM_LABELS[key as keyof typeof STEM_LABELS].toLowerCase()}`;
  return `${PARTS[part]}: ${worded(key)}`;
}

/** A value that a cue holds, in a few words; where it is undefined the cue follows the day. */
export function heldText({ part, key }: HeldPath, value: unknown, airs: readonly NamedAir[]): string {
  if (value === undefined) return 'the day’s';
  if (value === null) return 'none';
  if (part === 'airId') return nameIn(airs, value as string);
  if (part === 'variant') return variantText(value as string);
  if (part === 'exposure') {
    const { lowEv, highEv } = value as Exposure;
    return lowEv === highEv ? `EV ${readable(lowEv)}` : `EV ${readable(lowEv)} to ${readable(highEv)}`;
  }
  if (part === 'dimmers') {
    const { on, level, tint } = value as Dimmer;
    return on ? `× ${readable(level)}${tinted(tint)}` : 'off';
  }
  if (part === 'mix') {
    const { level, tint } = value as Trim;
    return `× ${readable(level)}${tinted(tint)}`;
  }
  if (typeof value === 'number') return `${readable(value)}${unitOf(key ?? part)?.[1] ?? ''}`;
  if (typeof value === 'boolean') return switchText(part, value);
  return typeof value === 'string' ? value : summed(value as object);
}

/** A variant of materials: '' is none. */
const variantText = (name: string) => name || 'as the file has it';

const switchText = (part: string, on: boolean) => (part === 'objects' ? (on ? 'shown' : 'hidden') : on ? 'yes' : 'no');

/** Values of a part that are told, at most. */
const TOLD = 2;

/** The first values of a part that is held whole. */
function summed(part: object): string {
  const told = Object.entries(part).filter((entry): entry is [string, number] => typeof entry[1] === 'number');
  return told.length === 0
    ? 'its own'
    : told
        .slice(0, TOLD)
        .map(([key, v]) => `${worded(key)} ${readable(v)}${unitOf(key)?.[1] ?? ''}`)
        .join(', ');
}

const tinted = (tint: string) => (tint.toLowerCase() === '#ffffff' ? '' : ` ${tint}`);

/** The colour that a held value is, where it is one. */
export const colorOf = (value: unknown): string | null => (typeof value === 'string' && /^#[0-9a-f]{6}$/i.test(value) ? value : null);

/** What one number, word or switch of what cues hold is called. */
export function leafLabel([part, ...keys]: LeafPath, rig: Named): string {
  const [key, ...inner] = keys;
  const own = part as keyof Holds;
  if (key === undefined) return PARTS[own];
  const named = ['volumes', 'dimmers', 'mix', 'objects', 'looks'].includes(own)
    ? heldLabel({ part: own, key }, rig)
    : `${PARTS[own]}: ${worded(key)}`;
  return inner.length === 0 ? named : `${named}, ${inner.map(worded).join(' ')}`;
}

/** Such a value in words; where it is undefined the cue follows the day. */
export function leafText(path: LeafPath, value: Leaf | undefined, airs: readonly NamedAir[]): string {
  if (value === undefined) return 'the day’s';
  if (value === null) return 'none';
  if (path[0] === 'airId') return nameIn(airs, String(value));
  if (path[0] === 'variant') return variantText(String(value));
  if (typeof value === 'number') return `${readable(value)}${unitOf(path.at(-1)!)?.[1] ?? ''}`;
  return typeof value === 'boolean' ? switchText(path[0]!, value) : value;
}
