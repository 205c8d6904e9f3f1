// npm run load: how fast pages' questions are answered, as JSON lines: to 50 readers without a pause (small answers, and files), to 50 that ask once a
// second, and to those while a bake runs. Starts an application of its own, or asks one that runs.
//   npm run load -- [--address http://127.0.0.1:4170] [--seconds 15] [--readers 50]
import { parseArgs } from 'node:util';
import type { ProjectCard, ProjectView } from '../core/api';
import { defaultRig } from '../core/rig';
import { removeData, startApplication } from '../tests/lib/application';
import { bakesAt } from '../tests/lib/bakes';
import { quadLevel, room } from '../tests/lib/level';
import { letRead, timesOf, type Asked } from '../tests/load/readers';

const { values } = parseArgs({
  options: { address: { type: 'string' }, seconds: { type: 'string', default: '15' }, readers: { type: 'string', default: '50' } },
});
const own = values.address ? null : await startApplication(['--no-demo']);
const address = values.address ?? own!.address;
const [seconds, readers] = [Number(values.seconds), Number(values.readers)];

const get = async <T>(path: string): Promise<T> => (await (await fetch(`${address}${path}`)).json()) as T;
const post = async <T>(path: string, body: BodyInit): Promise<T> =>
  (await (await fetch(`${address}${path}`, { method: 'POST', body })).json()) as T;
const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));

/** A room that is baked, so that there is something to ask for. */
async function bringRoom(): Promise<string> {
  await post('/api/intakes?name=Room.glb', (await quadLevel(room(0, 4, { albedo: 0.6, glow: 50 }))) as BodyInit);
  for (;;) {
    const [card] = await get<ProjectCard[]>('/api/projects');
    if (card) return card.id;
    await pause(300);
  }
}

/** Has a project baked anew, at a quality that takes long enough to be asked beside. */
async function beginBake(id: string): Promise<void> {
  const { revision, rig } = await get<ProjectView>(`/api/projects/${id}`);
  const bake = { ...defaultRig().bake, texelsPerM: 16, quality: 'fair' as const, bounces: 12 };
  await post(`/api/projects/${id}/rig`, JSON.stringify({ base: revision, rig: { ...rig, bake }, note: 'load' }));
  await post(`/api/projects/${id}/bakes`, JSON.stringify({ whole: true }));
}

const bakesOf = (id: string) => bakesAt(address, id);

/** What pages ask for, about as often as they do: small answers, and files. */
async function askedOf(id: string): Promise<{ small: Asked[]; files: Asked[] }> {
  const { level } = await get<ProjectView>(`/api/projects/${id}`);
  const { done } = await bakesOf(id);
  const [card] = (await get<ProjectCard[]>('/api/projects')).filter((p) => p.id === id);
  const small = [
    { kind: 'projects', path: '/api/projects', weight: 15 },
    { kind: 'rig', path: `/api/projects/${id}`, weight: 15 },
    { kind: 'health', path: '/api/health', weight: 20 },
    { kind: 'bakes', path: `/api/projects/${id}/bakes`, weight: 30 },
  ];
  const files = [
    ...(done ? [{ kind: 'bake', path: `/api/bakes/${done.id}`, weight: 3 }] : []),
    ...(done?.maps[0] ? [{ kind: 'small file', path: `/api/files/${done.maps[0].cover}?as=stems`, weight: 10 }] : []),
    ...(card?.pictureHash ? [{ kind: 'picture', path: `/api/files/${card.pictureHash}?as=picture`, weight: 5 }] : []),
    { kind: 'level', path: `/api/files/${level.hash}?as=level`, weight: 2 },
  ];
  return { small, files };
}

async function measure(what: string, asked: readonly Asked[], everyMs: number): Promise<void> {
  const began = performance.now();
  const answers = await letRead(address, asked, { readers, seconds, everyMs });
  const took = (performance.now() - began) / 1000;
  const all = timesOf('all', answers);
  console.log(JSON.stringify({ what, readers, perSecond: Number((answers.length / took).toFixed(1)), ...all }));
  for (const { kind } of asked)
    console.log(
      JSON.stringify({
        what,
        ...timesOf(
          kind,
          answers.filter((a) => a.kind === kind),
        ),
      }),
    );
}

try {
  const id = own ? await bringRoom() : (await get<ProjectCard[]>('/api/projects'))[0]!.id;
  if (own) {
    await beginBake(id);
    while (!(await bakesOf(id)).done) await pause(500);
  }
  // The picture of a project is made anew after its bake.
  await pause(8000);
  const { small, files } = await askedOf(id);
  await measure('small answers, without a pause', small, 0);
  await measure('files, without a pause', files, 0);
  await measure('once a second', [...small, ...files], 1000);
  if (own) {
    await beginBake(id);
    while ((await bakesOf(id)).atWork?.state !== 'running') await pause(200);
    await measure('once a second, beside a bake', [...small, ...files], 1000);
    console.log(JSON.stringify({ what: 'the bake', stillRuns: (await bakesOf(id)).atWork !== null }));
  }
} finally {
  await own?.stop();
  if (own) removeData(own.data);
}
process.exit(0);
