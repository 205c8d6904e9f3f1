import { refuseHeldImages } from '../../core/rig';
import { mixFolder } from '../../server/folder/mixFolder';
import { need, path, print, type Command } from '../lib/input';
import { momentFrom, rigFrom } from '../lib/rigFile';

/** The light of a cue or an hour, from stems. */
export const mix: Command = async ([folder], options) => {
  const from = path(need(folder, 'The folder of the bake'));
  const rig = await rigFrom(options.rig);
  refuseHeldImages(rig);
  const report = await mixFolder(from, rig, momentFrom(rig, options), path(need(options.out, '--out')));
  if (options.json) return print(report);
  console.log(`${report.files.join(', ')}: ${report.meanLux.toPrecision(4)} lx on average`);
  for (const line of report.leftOut) console.log(`left out: ${line}`);
  for (const line of report.stale) console.log(`stale: ${line}`);
};
