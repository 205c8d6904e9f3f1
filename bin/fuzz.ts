// npm run fuzz: damaged files and nonsense requests, as JSON lines: each finding with the seed that makes it again, and a summary. Ends with 1 where there
// are any. Requests go to a database of its own.
//   npm run fuzz -- [--minutes 30] [--seed 1] [--files piz]
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { migrate, openDatabase, streamOf } from '../server/data';
import { prepareQueue } from '../server/queue';
import { receiveSkyImage } from '../server/stores';
import { fuzzFiles } from '../tests/fuzz/fuzzFiles';
import { fuzzRequests } from '../tests/fuzz/fuzzRequests';
import { sampleFiles } from '../tests/fuzz/sampleFiles';
import { bareProject } from '../tests/lib/bareProject';
import { startPostgres } from './lib/postgres.mjs';

const { values } = parseArgs({
  options: { minutes: { type: 'string', default: '30' }, seed: { type: 'string', default: '1' }, files: { type: 'string' } },
});
const seed = Number(values.seed);
const end = Date.now() + Number(values.minutes) * 60_000;
const isOver = () => Date.now() > end;

async function nonsense() {
  const folder = mkdtempSync(join(tmpdir(), 'basil-fuzz-'));
  const cluster = await startPostgres(folder);
  const db = openDatabase(cluster.address);
  try {
    await migrate(db);
    await prepareQueue(cluster.address);
    // The routes work on the database of their process.
    globalThis.basilContext = { db };
    const { projectId, hash } = await bareProject(db, new Uint8Array(500));
    const { id: imageId } = await receiveSkyImage(db, projectId, 'sky.hdr', streamOf(new Uint8Array(40)));
    return await fuzzRequests([projectId, imageId, hash], seed, isOver);
  } finally {
    await db.destroy();
    cluster.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}

const samples = (await sampleFiles()).filter((s) => s.name.includes(values.files ?? ''));
const [files, requests] = await Promise.all([fuzzFiles(samples, seed, isOver), values.files ? { done: 0, findings: [] } : nonsense()]);
const findings = [...files.findings, ...requests.findings];
for (const finding of findings) console.log(JSON.stringify(finding));
console.log(JSON.stringify({ files: files.done, read: files.read, requests: requests.done, findings: findings.length }));
process.exit(findings.length > 0 ? 1 : 0);
