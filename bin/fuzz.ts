// npm run fuzz: damaged files and nonsense requests, as JSON lines: each finding with the seed that makes it again, and a summary. Ends with 1 where there
// are any.
//   npm run fuzz -- [--minutes 30] [--seed 1]
import { parseArgs } from 'node:util';
import { fuzzFiles } from '../tests/fuzz/fuzzFiles';
import { sampleFiles } from '../tests/fuzz/sampleFiles';

const { values } = parseArgs({
  options: { minutes: { type: 'string', default: '30' }, seed: { type: 'string', default: '1' }, files: { type: 'string' } },
});
const seed = Number(values.seed);
const end = Date.now() + Number(values.minutes) * 60_000;
const all = await sampleFiles();
const samples = values.files ? all.filter((s) => s.name.includes(values.files!)) : all;
const { done, findings } = await fuzzFiles(samples, seed, () => Date.now() > end);
for (const finding of findings) console.log(JSON.stringify(finding));
console.log(JSON.stringify({ files: done, findings: findings.length }));
process.exit(findings.length > 0 ? 1 : 0);
