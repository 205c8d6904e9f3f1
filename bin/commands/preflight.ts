import { basename } from 'node:path';
import { inFile, need, print, readInput, type Command } from '../lib/input';
import { preflightReport } from '../lib/preflightReport';
import { rigFrom } from '../lib/rigFile';

/** What would spoil a bake. */
export const preflight: Command = async ([file], options) => {
  const name = need(file, 'The level file');
  const rig = options.rig === undefined ? null : await rigFrom(options.rig);
  const bytes = await readInput(name);
  const lines = await inFile(name, () => preflightReport(bytes, rig));
  if (options.json) return print({ file: basename(name), lines });
  for (const { text, atM } of lines) console.log(atM ? `${text} (at ${atM.map((v) => v.toFixed(2)).join(', ')} m)` : text);
  console.log(lines.length === 0 ? 'Nothing was found.' : `${lines.length} found.`);
};
