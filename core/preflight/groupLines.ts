import type { PreflightLine } from './preflight';

type Code = PreflightLine['code'];

/** What can be done about all lines of a kind at once. */
export type GroupRemedy = 'leave-out' | 'roles';

/** Lines of one kind. */
export interface PreflightGroup<L extends Pick<PreflightLine, 'code'> = PreflightLine> {
  code: Code;
  /** What is the matter, with how many. */
  title: string;
  remedy: GroupRemedy | null;
  lines: L[];
}

interface Kind {
  title(count: number): string;
  remedy?: GroupRemedy;
}

const objects = (count: number) => (count === 1 ? '1 object' : `${count} objects`);
const surfaces = (count: number) => (count === 1 ? '1 surface' : `${count} surfaces`);
const are = (count: number) => (count === 1 ? 'is' : 'are');

/** Kinds of lines, the worst first. */
const KINDS: Readonly<Record<Code, Kind>> = {
  'no-sky': { title: () => 'No sky is seen' },
  opening: { title: (n) => `${surfaces(n)} ${n === 1 ? 'seems' : 'seem'} to mark only the sky`, remedy: 'roles' },
  helper: { title: (n) => `${surfaces(n)} ${n === 1 ? 'seems' : 'seem'} to be ${n === 1 ? 'a helper' : 'helpers'}`, remedy: 'roles' },
  damaged: { title: (n) => `${objects(n)} ${are(n)} damaged and left behind` },
  'broken-texture': { title: (n) => (n === 1 ? '1 texture cannot be read' : `${n} textures cannot be read`) },
  fineness: { title: (n) => `The light of ${n === 1 ? '1 coarser form' : `${n} coarser forms`} steps` },
  unlit: { title: (n) => (n === 1 ? '1 material is to be shown without light' : `${n} materials are to be shown without light`) },
  missing: { title: (n) => (n === 1 ? '1 name of the rig is not in the level' : `${n} names of the rig are not in the level`) },
  'sun-twice': { title: (n) => `The sun counts twice in ${n === 1 ? '1 cue' : `${n} cues`}` },
  budget: { title: () => 'The stems are over their budget' },
  'seen-from-behind': { title: (n) => `${objects(n)} ${are(n)} seen from behind` },
  'tight-charts': { title: (n) => `Charts of ${objects(n)} lie too close` },
  'second-uv': { title: (n) => `Second UV sets of ${objects(n)} cannot be used` },
  black: { title: (n) => `${n === 1 ? '1 material reflects' : `${n} materials reflect`} almost nothing` },
  white: { title: (n) => `${n === 1 ? '1 material reflects' : `${n} materials reflect`} almost everything` },
  inside: { title: (n) => `${objects(n)} ${n === 1 ? 'lies' : 'lie'} inside of something`, remedy: 'leave-out' },
  density: { title: (n) => `${objects(n)} ${n === 1 ? 'has' : 'have'} other texels than the level` },
  'zero-area': { title: () => 'Triangles without area were left out' },
};
const ORDER = Object.keys(KINDS) as Code[];

/** Lines by their kinds, the worst kind first. */
export function groupLines<L extends Pick<PreflightLine, 'code'>>(lines: readonly L[]): PreflightGroup<L>[] {
  return ORDER.flatMap((code) => {
    const own = lines.filter((line) => line.code === code);
    const { title, remedy = null } = KINDS[code];
    return own.length > 0 ? [{ code, title: title(own.length), remedy, lines: own }] : [];
  });
}
