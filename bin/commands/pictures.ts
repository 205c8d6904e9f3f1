import sharp from 'sharp';
import { writeExr } from '../../core/image';
import { refuseHeldImages, resolveCue, resolveHour, vantageOfCue, type Cue, type Lighting, type Rig, type Vantage } from '../../core/rig';
import { Failure } from '../../core/units';
import { sheetPng, type LabelledStill } from '../../server/folder/sheetPng';
import { StillMaker } from '../../server/folder/stills';
import { writeOut } from '../../server/folder/writeOut';
import { clockText } from '../lib/clockText';
import { need, path, print, threadsFrom, type Command, type Options } from '../lib/input';
import { numberFrom } from '../lib/numberFrom';
import { momentFrom, rigFrom } from '../lib/rigFile';
import { evenValues, rigValue, withRigValue } from '../lib/rigValue';

const STILL = { width: 1920, aspect: 16 / 9, oversample: 2 } as const;
/** Width of the pictures of sheets and ladders, pixels, and their shape. */
const CELL = { width: 480, aspect: 1.5, columns: 4 } as const;
const STEPS = { least: 3, most: 7, preset: 5 } as const;
/** How far a ladder goes by itself: to a quarter and to four times, or as many stops to each side. */
const REACH = { ratio: 4, stops: 2 } as const;

interface Asked {
  rig: Rig;
  maker: StillMaker;
  out: string;
}

/** Does something with the stems, the rig and the place to write to that a command names. */
async function withStems<T>(options: Options, work: (asked: Asked) => Promise<T>): Promise<T> {
  const folder = path(need(options.stems, '--stems'));
  const out = path(need(options.out, '--out'));
  const rig = await rigFrom(options.rig);
  refuseHeldImages(rig);
  const maker = await StillMaker.open(folder, threadsFrom(options.threads));
  try {
    return await work({ rig, maker, out });
  } finally {
    await maker.close();
  }
}

const lightOf = (rig: Rig, moment: { cue: Cue } | { hour: number }): Lighting =>
  'cue' in moment ? resolveCue(rig, moment.cue) : resolveHour(rig, moment.hour);

/** The vantage that is named, else the cue's own, else the whole level. */
function vantageFrom({ rig, maker }: Asked, name: string | undefined, cue: Cue | null): Vantage {
  if (name === undefined) return vantageOfCue(rig, cue ?? rig.cues[0]!) ?? maker.wholeView();
  const vantage = rig.vantages.find((v) => v.name.toLowerCase() === name.toLowerCase() || v.id === name);
  if (vantage) return vantage;
  const names = rig.vantages.map((v) => v.name).join(', ');
  throw new Failure(
    'bad-input',
    `The rig has no vantage "${name}".`,
    names ? `It has: ${names}.` : 'Save one in the studio, or leave --vantage out.',
  );
}

const pixels = (text: string | undefined, name: string, preset: number) =>
  text === undefined ? preset : Math.round(numberFrom(text, name, 16, 16384));

/** One picture of a cue or an hour, at any size: a PNG as it is graded, or an EXR of its radiances. */
export const still: Command = (_, options) =>
  withStems(options, async (asked) => {
    const { rig, maker, out } = asked;
    const ending = /\.(png|exr)$/i.exec(out)?.[1]?.toLowerCase();
    if (!ending) throw new Failure('bad-input', `--out ${options.out} is neither a .png nor an .exr.`, 'End its name with one of them.');
    const moment = momentFrom(rig, options);
    const width = pixels(options.width, '--width', STILL.width);
    const height = pixels(options.height, '--height', Math.round(width / STILL.aspect));
    const parts = options.oversample === undefined ? STILL.oversample : Math.round(numberFrom(options.oversample, '--oversample', 1, 8));
    const view = vantageFrom(asked, options.vantage, 'cue' in moment ? moment.cue : null);
    const made = await maker.make(rig, lightOf(rig, moment), view, { width, height, parts });
    const file =
      ending === 'exr'
        ? await writeExr(made.radiance, width, height)
        : await sharp(made.rgb, { raw: { width, height, channels: 3 } })
            .png()
            .toBuffer();
    await writeOut(out, file);
    if (options.json) return print({ out, width, height, ev100: made.ev100 });
    console.log(`${out}: ${width} x ${height}, exposed at EV ${made.ev100.toFixed(2)}`);
  });

interface Cell {
  label: string;
  note: string;
  rig: Rig;
  lighting: Lighting;
  vantage: Vantage;
}

/** Makes the pictures of a sheet one after another and writes it. */
async function writeSheet({ maker, out }: Asked, title: string, cells: readonly Cell[], options: Options, columns: number): Promise<void> {
  const width = pixels(options.width, '--width', CELL.width);
  const size = { width, height: Math.round(width / CELL.aspect), parts: STILL.oversample };
  const made: LabelledStill[] = [];
  for (const { label, note, rig, lighting, vantage } of cells)
    made.push({ label, note, still: await maker.make(rig, lighting, vantage, size) });
  await writeOut(out, await sheetPng(title, made, columns));
  if (options.json) return print({ out, pictures: cells.map(({ label, note }) => ({ label, note })) });
  console.log(`${out}: ${cells.length} pictures`);
}

/** Every cue from one vantage, or with --cue that cue from every vantage. */
export const sheet: Command = (_, options) =>
  withStems(options, async (asked) => {
    const { rig, maker } = asked;
    if (options.cue === undefined && options.at === undefined) {
      const vantage = vantageFrom(asked, options.vantage, null);
      // Work light is in no picture meant for others.
      const cells = rig.cues
        .filter((c) => c.kind !== 'bench')
        .map((cue) => ({
          label: cue.name,
          note: cue.kind === 'timed' ? clockText(cue.hour) : cue.kind,
          rig,
          lighting: resolveCue(rig, cue),
          vantage,
        }));
      return writeSheet(asked, 'Every cue from one view', cells, options, Math.min(CELL.columns, cells.length));
    }
    const moment = momentFrom(rig, options);
    const name = 'cue' in moment ? moment.cue.name : clockText(moment.hour);
    const lighting = lightOf(rig, moment);
    const views = rig.vantages.length > 0 ? rig.vantages : [{ name: 'Whole level', ...maker.wholeView() }];
    const cells = views.map((v) => ({ label: v.name, note: name, rig, lighting, vantage: v }));
    return writeSheet(asked, `${name} from every view`, cells, options, Math.min(CELL.columns, cells.length));
  });

/** One value of the rig at several steps. */
export const ladder: Command = (_, options) =>
  withStems(options, async (asked) => {
    const { rig } = asked;
    const paths = need(options.value, '--value').split(',');
    const now = rigValue(rig, paths[0]!);
    const isStops = /Ev$/.test(paths[0]!);
    const steps = options.steps === undefined ? STEPS.preset : Math.round(numberFrom(options.steps, '--steps', STEPS.least, STEPS.most));
    const end = (text: string | undefined, name: string, preset: number) =>
      text === undefined ? preset : numberFrom(text, name, -1e9, 1e9);
    const [low, high] = isStops ? [now - REACH.stops, now + REACH.stops] : [now / REACH.ratio, now * REACH.ratio];
    const values = evenValues(end(options.from, '--from', low), end(options.to, '--to', high), steps, isStops);
    const first = options.cue === undefined && options.at === undefined;
    const moment = first ? { cue: cueOfPath(rig, paths[0]!) } : momentFrom(rig, options);
    const vantage = vantageFrom(asked, options.vantage, 'cue' in moment ? moment.cue : null);
    const cells = values.map((value) => {
      const tried = withRigValue(rig, paths, value);
      const then = 'cue' in moment ? { cue: tried.cues.find((c) => c.id === moment.cue.id)! } : moment;
      return { label: String(value), note: value === now ? 'as it is' : '', rig: tried, lighting: lightOf(tried, then), vantage };
    });
    await writeSheet(asked, paths.join(', '), cells, options, cells.length);
  });

/** The cue that a path leads through, else the first one. */
function cueOfPath(rig: Rig, value: string): Cue {
  const [field, name] = value.split('/').filter(Boolean);
  const own =
    field === 'cues'
      ? rig.cues.find((c, i) => c.id === name || c.name.toLowerCase() === name?.toLowerCase() || String(i) === name)
      : undefined;
  return own ?? rig.cues[0]!;
}
