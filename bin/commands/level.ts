import { basename } from 'node:path';
import { prepareLevel, readLevel } from '../../core/level';
import { DEFAULT_BAKE } from '../../core/rig';
import { inFile, need, print, readInput, type Command } from '../lib/input';

/** What a level holds, and how it is laid out on lightmaps. */
export const inspect: Command = async ([file], { json }) => {
  const name = need(file, 'The level file');
  const bytes = await readInput(name);
  const { summary } = await inFile(name, async () => prepareLevel(await readLevel(bytes), DEFAULT_BAKE));
  if (json) return print({ file: basename(name), bytes: bytes.length, ...summary });
  const { lightmaps: maps } = summary;
  console.log(`${basename(name)}: ${summary.objects} objects, ${summary.triangles} triangles, ${summary.areaM2.toFixed(1)} m2`);
  console.log(
    `lightmaps: ${maps.maps.map((m) => `${m.width} x ${m.height}`).join(', ')} at ${maps.texelsPerM.toFixed(2)} texels/m (${maps.origin})`,
  );
  for (const { object, fault } of maps.faults) console.log(`"${object}": second UV set ${fault}; made anew`);
};
