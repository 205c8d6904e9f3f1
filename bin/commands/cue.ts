import {
  TYPICAL_CUES,
  checkRig,
  heldAt,
  heldDifferences,
  heldPaths,
  incidentEv,
  neighbours,
  openGroundLight,
  resolveHour,
  typicalCue,
  type Cue,
  type HeldPath,
  type TypicalCue,
} from '../../core/rig';
import { Failure, freeName, luminance, percent } from '../../core/units';
import { clockText } from '../lib/clockText';
import { need, print, type Command } from '../lib/input';
import { numberFrom } from '../lib/numberFrom';
import { cueNamed, rigFrom } from '../lib/rigFile';

const called = ({ part, key }: HeldPath) => (key === undefined ? part : `${part} ${key}`);
const written = (value: unknown) => (value === undefined ? "the day's" : JSON.stringify(value));
const standing = ({ kind, hour }: Cue) => (kind === 'timed' ? clockText(hour) : `${kind}, ${clockText(hour)}`);

/** The cues of a rig, and what each holds over the day. */
export const list: Command = async (_, options) => {
  const { cues } = await rigFrom(options.rig);
  if (options.json) {
    const held = (cue: Cue) => heldPaths(cue).map((path) => ({ ...path, value: heldAt(cue, path) }));
    return print(cues.map((cue) => ({ id: cue.id, name: cue.name, kind: cue.kind, hour: cue.hour, fadeS: cue.fadeS, holds: held(cue) })));
  }
  for (const cue of cues) console.log(`${cue.name} (${standing(cue)}): holds ${heldPaths(cue).map(called).join(', ') || 'nothing'}`);
};

/** What two cues hold differently. */
export const diff: Command = async ([first, second], options) => {
  const rig = await rigFrom(options.rig);
  const [a, b] = [cueNamed(rig, need(first, 'The first cue')), cueNamed(rig, need(second, 'The second cue'))];
  const differences = heldDifferences(a, b);
  if (options.json) return print({ a: a.name, b: b.name, differences });
  if (differences.length === 0) console.log(`${a.name} and ${b.name} hold the same.`);
  for (const d of differences) console.log(`${called(d)}: ${written(d.a)} in ${a.name}, ${written(d.b)} in ${b.name}`);
};

/** Which cues blend at an hour, and the light that stands then. */
export const at: Command = async ([hour], options) => {
  const rig = await rigFrom(options.rig);
  const moment = numberFrom(need(hour, 'The hour'), 'The hour', 0, 23.9999);
  const around = neighbours(rig, moment);
  const lighting = resolveHour(rig, moment);
  const { sun, sky } = openGroundLight(lighting);
  const report = {
    hour: moment,
    from: around && { name: around.a.name, share: 1 - around.t },
    to: around && { name: around.b.name, share: around.t },
    suns: lighting.suns.map(({ kind, azimuthDeg, elevationDeg, illuminance }) => ({
      kind,
      azimuthDeg,
      elevationDeg,
      lux: luminance(illuminance),
    })),
    ground: { sunLux: luminance(sun), skyLux: luminance(sky) },
    incidentEv: incidentEv(lighting),
    exposure: lighting.exposure,
  };
  if (options.json) return print(report);
  console.log(
    around
      ? `${clockText(moment)}: ${around.a.name} ${percent(1 - around.t)}, ${around.b.name} ${percent(around.t)}`
      : `${clockText(moment)}: the day alone`,
  );
  for (const s of report.suns)
    console.log(`${s.kind} at ${s.azimuthDeg.toFixed(1)} / ${s.elevationDeg.toFixed(1)} deg, ${s.lux.toPrecision(4)} lx facing it`);
  console.log(
    `open ground: sun ${report.ground.sunLux.toPrecision(4)} lx, sky ${report.ground.skyLux.toPrecision(4)} lx, EV ${report.incidentEv.toFixed(1)}`,
  );
};

/** A rig with a typical cue more. */
export const add: Command = async ([which], options) => {
  const rig = await rigFrom(options.rig);
  const wanted = need(which, 'Which cue is to be added');
  if (!(TYPICAL_CUES as readonly string[]).includes(wanted))
    throw new Failure('bad-input', `There is no typical cue "${wanted}".`, `There are: ${TYPICAL_CUES.join(', ')}.`);
  const made = typicalCue(rig, wanted as TypicalCue);
  const cue: Cue = { ...made, ...freeName(rig.cues, options.name ?? made.name) };
  const next = checkRig({ ...rig, cues: [...rig.cues, cue] });
  print(options.json ? cue : next);
};
