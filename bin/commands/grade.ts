import { LUT_SIZES, SHAPER_TEXT, gradeLiftEv, gradeLut, isFixed, readCdl, readCube, writeCdl, writeCube, type Cdl } from '../../core/grade';
import { incidentEv, refuseHeldImages, resolveCue, resolveHour } from '../../core/rig';
import { Failure } from '../../core/units';
import { writeOut } from '../../server/folder/writeOut';
import { inFile, need, path, print, readInput, type Command, type Options } from '../lib/input';
import { numberFrom } from '../lib/numberFrom';
import { momentFrom, rigFrom } from '../lib/rigFile';

const DEFAULT_SIZE = 33;

/** The file that an option names, with the ending that it needs. */
function fileFrom(options: Options, option: 'lut' | 'cdl', ending: string): string | null {
  const name = options[option];
  if (name === undefined) return null;
  if (!name.toLowerCase().endsWith(ending))
    throw new Failure('bad-input', `--${option} ${name} does not end in ${ending}.`, 'Name the file so.');
  return path(name);
}

/** The grade of a cue or an hour: printed, and written as a table and a list. */
export const grade: Command = async (_, options) => {
  const rig = await rigFrom(options.rig);
  const moment = momentFrom(rig, options);
  refuseHeldImages({ cues: 'cue' in moment ? [moment.cue] : rig.cues });
  const [lutFile, cdlFile] = [fileFrom(options, 'lut', '.cube'), fileFrom(options, 'cdl', '.cdl')];
  const size = options.size === undefined ? DEFAULT_SIZE : Math.round(numberFrom(options.size, '--size', ...LUT_SIZES));
  const lighting = 'cue' in moment ? resolveCue(rig, moment.cue) : resolveHour(rig, moment.hour);
  const name = 'cue' in moment ? moment.cue.name : `${moment.hour} h`;
  const fixed = isFixed(lighting.exposure);
  const { lowEv, highEv } = lighting.exposure;
  const ev100 = fixed ? lowEv : Math.min(highEv, Math.max(lowEv, incidentEv(lighting)));
  if (lutFile) {
    const comments = [
      `Grade of ${name}. ${SHAPER_TEXT}`,
      'output = encoded sRGB (IEC 61966-2-1), 0..1',
      `exposure EV100 ${Number(ev100.toFixed(3))}`,
    ];
    await writeOut(lutFile, writeCube(gradeLut(lighting.grade, ev100, size, name), comments));
  }
  if (cdlFile) await writeOut(cdlFile, writeCdl(lighting.grade.cdl, name));
  const { sceneWhite, curves, ...parts } = lighting.grade;
  const report = {
    name,
    ev100: Number(ev100.toFixed(3)),
    exposure: fixed ? 'fixed' : 'automatic: as on open ground',
    liftEv: Number(gradeLiftEv(lighting.grade, ev100).toFixed(3)),
    ...(lutFile ? { lut: { file: lutFile, size, input: SHAPER_TEXT, output: 'encoded sRGB' } } : {}),
    ...(cdlFile ? { cdl: { file: cdlFile } } : {}),
    grade: { ...parts, curves, sceneWhite },
  };
  if (options.json) return print(report);
  console.log(`${name}: lifts mid-grey by ${report.liftEv} EV at EV100 ${report.ev100} (${report.exposure})`);
  if (lutFile) console.log(`${size} x ${size} x ${size} points written to ${lutFile}\n${SHAPER_TEXT}`);
  if (cdlFile) console.log(`colour decision list written to ${cdlFile}`);
};

const cdlText = ({ slope, offset, power, saturation }: Cdl) =>
  `slope ${slope.join(' ')}, offset ${offset.join(' ')}, power ${power.join(' ')}, saturation ${saturation}`;

/** What a .cdl or .cube file holds. */
export const read: Command = async ([file], options) => {
  const name = need(file, 'The file to read');
  const text = new TextDecoder().decode(await readInput(name));
  if (/\.cube$/i.test(name)) {
    const { title, size, values } = await inFile(name, () => readCube(text));
    const range = [values.reduce((a, b) => Math.min(a, b)), values.reduce((a, b) => Math.max(a, b))];
    if (options.json) return print({ kind: 'lut', title, size, range });
    return console.log(`${title || 'no title'}: ${size} x ${size} x ${size} points, outputs from ${range[0]} to ${range[1]}`);
  }
  const cdl = await inFile(name, () => readCdl(text));
  if (options.json) return print({ kind: 'cdl', ...cdl });
  console.log(cdlText(cdl));
};
