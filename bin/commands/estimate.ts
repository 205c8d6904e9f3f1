import { availableParallelism } from 'node:os';
import { estimateBake } from '../../core/estimate';
import { inFile, need, print, readInput, threadsFrom, type Command } from '../lib/input';
import { rigFrom } from '../lib/rigFile';

/** What a bake would take. */
export const estimate: Command = async ([file], options) => {
  const name = need(file, 'The level file');
  const rig = await rigFrom(options.rig);
  const bytes = await readInput(name);
  const report = await inFile(name, () => estimateBake(bytes, rig, threadsFrom(options.threads) ?? availableParallelism()));
  if (options.json) return print(report);
  console.log(
    `${report.texels} texels in ${report.maps.length} map(s), ${report.layers} layers: about ${report.seconds.toFixed(0)} s on ${report.threads} threads`,
  );
  console.log(
    `${report.memoryMB.toFixed(0)} MB of memory, ${report.storedMB.toFixed(0)} MB stored (${report.storedPerCueMB.toFixed(1)} MB a cue)`,
  );
};
