import { basename } from 'node:path';
import { iesReport, lampsReport } from '../lib/lampReports';
import { inFile, need, print, readInput, type Command } from '../lib/input';
import { rigFrom } from '../lib/rigFile';

/** What a measured distribution holds. */
export const inspectIes: Command = async ([file], { json }) => {
  const name = need(file, 'The IES file');
  const text = new TextDecoder('latin1').decode(await readInput(name));
  const report = await inFile(name, () => iesReport(text));
  if (json) return print({ file: basename(name), ...report });
  console.log(
    `${basename(name)}: ${report.edition}, type ${report.type}, ${report.verticalAngles} vertical by ${report.horizontalAngles} horizontal angles`,
  );
  console.log(`${report.lumens} lm in all, at most ${report.peakCandela} cd, ${report.watts} W (${report.photometry} photometry)`);
  for (const remark of report.remarks) console.log(remark);
};

/** Every lamp that stands in the level. */
export const list: Command = async (_, options) => {
  const report = lampsReport(await rigFrom(options.rig));
  if (options.json) return print(report);
  for (const l of report) {
    const where = l.atM.map((v) => v.toFixed(2)).join(', ');
    console.log(`${l.name}: ${l.kind}, ${l.lumens} lm, ${l.circuit ?? 'no circuit'}${l.fixture ? `, of ${l.fixture}` : ''}, at ${where} m`);
  }
  console.log(`${report.length} lamps`);
};
