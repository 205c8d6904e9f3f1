import { basename } from 'node:path';
import { groupLines } from '../../core/preflight';
import { inFile, need, print, readInput, type Command } from '../lib/input';
import { preflightReport } from '../lib/preflightReport';
import { rigFrom } from '../lib/rigFile';

/** Lines of a kind that are written out. */
const MOST = 12;

/** What would spoil a bake, kind by kind, the worst first. */
export const preflight: Command = async ([file], options) => {
  const name = need(file, 'The level file');
  const rig = options.rig === undefined ? null : await rigFrom(options.rig);
  const bytes = await readInput(name);
  const lines = await inFile(name, () => preflightReport(bytes, rig));
  if (options.json) return print({ file: basename(name), lines });
  const placed = ({ text, atM }: (typeof lines)[number]) => (atM ? `${text} (at ${atM.map((v) => v.toFixed(2)).join(', ')} m)` : text);
  for (const { title, lines: own } of groupLines(lines.filter((l) => l.of === 'level'))) {
    console.log(`${title}:`);
    for (const line of own.slice(0, MOST)) console.log(`  ${placed(line)}`);
    if (own.length > MOST) console.log(`  and ${own.length - MOST} more; --json lists them all`);
  }
  for (const line of lines.filter((l) => l.of === 'lamps')) console.log(placed(line));
  console.log(lines.length === 0 ? 'Nothing was found.' : `${lines.length} found.`);
};
