import { writeExr } from '../../core/image';
import { writeHdr } from '../../core/rgbe';
import { refuseHeldImages, resolveCue, resolveHour } from '../../core/rig';
import { Failure } from '../../core/units';
import { writeOut } from '../../server/folder/writeOut';
import { path, print, type Command } from '../lib/input';
import { numberFrom } from '../lib/numberFrom';
import { momentFrom, rigFrom } from '../lib/rigFile';
import { skyReport } from '../lib/skyReport';

/** The sky of a cue or an hour, in numbers and as a panorama. */
export const sky: Command = async (_, options) => {
  const rig = await rigFrom(options.rig);
  const moment = momentFrom(rig, options);
  refuseHeldImages({ cues: 'cue' in moment ? [moment.cue] : rig.cues });
  const size = options.size === undefined ? 1024 : numberFrom(options.size, '--size', 16, 16_384);
  const format = options.out === undefined ? null : /\.(exr|hdr)$/i.exec(options.out)?.[1]?.toLowerCase();
  if (format === undefined)
    throw new Failure('bad-input', `--out ${options.out} is neither .exr nor .hdr.`, 'Name the file with one of these endings.');
  const lighting = 'cue' in moment ? resolveCue(rig, moment.cue) : resolveHour(rig, moment.hour);
  const { panorama, report } = skyReport(lighting, 2 * Math.round(size / 2));
  if (options.out) {
    const { width, height, rgba } = panorama;
    await writeOut(path(options.out), format === 'exr' ? await writeExr(rgba, width, height) : writeHdr(rgba, width, height));
  }
  if (options.json) return print({ ...(options.out ? { out: path(options.out) } : {}), ...report });
  console.log(
    `sky ${Number(report.diffuseHorizontalLux.toPrecision(4))} lx and sun ${Number(report.directHorizontalLux.toPrecision(4))} lx on level ground; zenith ${Number(report.zenithCdM2.toPrecision(3))} cd/m2`,
  );
  if (options.out) console.log(`${panorama.width} x ${panorama.height} pixels of cd/m2 written to ${path(options.out)}`);
};
