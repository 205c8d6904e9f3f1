import { Readable } from 'node:stream';
import type { ReadableStream as NodeReadableStream } from 'node:stream/web';
import { sql } from 'kysely';
import { Failure } from '../../core/units';
import { openBlob } from '../data';
import {
  bakesOf,
  cancelBake,
  deleteProject,
  dropIntake,
  listIntakes,
  listProjects,
  openProject,
  readIntake,
  receiveLevel,
  renameProject,
  requestBake,
  saveRig,
} from '../stores';
import { send } from '../work';
import { context } from './context';
import { answer, checkId, readJson } from './respond';

type Id = { id: string };

/** What the routes under app/api do, one entry for each. */
export const routes = {
  health: answer(async () => {
    await sql`select 1`.execute(context().db);
    return { ok: true };
  }),

  listProjects: answer(() => listProjects(context().db)),
  openProject: answer<Id>((_, { id }) => openProject(context().db, checkId(id))),
  renameProject: answer<Id>(async (request, { id }) =>
    renameProject(context().db, checkId(id), String((await readJson(request)).name ?? '')),
  ),
  deleteProject: answer<Id>((_, { id }) => deleteProject(context().db, checkId(id))),

  saveRig: answer<Id>(async (request, { id }) => {
    const { base, rig, note } = await readJson(request);
    if (!Number.isInteger(base)) throw new Failure('bad-input', 'The revision this change began at is missing.', 'Send it as "base".');
    return saveRig(context().db, checkId(id), base as number, rig, String(note ?? ''));
  }),

  bakes: answer<Id>((_, { id }) => bakesOf(context().db, checkId(id))),
  requestBake: answer<Id>(async (_, { id }) => {
    const bake = await requestBake(context().db, checkId(id));
    if (bake.fresh) await send(await context().boss(), 'bake-plan', { bakeId: bake.id });
    return bake;
  }),
  cancelBake: answer<Id>((_, { id }) => cancelBake(context().db, checkId(id))),

  listIntakes: answer(() => listIntakes(context().db)),
  readIntake: answer<Id>((_, { id }) => readIntake(context().db, checkId(id))),
  dropIntake: answer<Id>((_, { id }) => dropIntake(context().db, checkId(id))),
  receiveLevel: answer(async (request) => {
    const query = new URL(request.url).searchParams;
    if (!request.body) throw new Failure('bad-input', 'The request brings no file.', 'Drop a .glb on the page.');
    const into = query.get('into');
    const intake = await receiveLevel(
      context().db,
      query.get('name') ?? 'level',
      request.body as unknown as NodeReadableStream<Uint8Array>,
      into && checkId(into),
    );
    await send(await context().boss(), 'intake', { intakeId: intake.id });
    return intake;
  }),

  /** A stored file by its hash; `as` says what it is. Its content never changes, so it may be kept for good. */
  file: answer<{ hash: string }>(async (request, { hash }) => {
    const kind = new URL(request.url).searchParams.get('as') ?? '';
    const type = { level: 'model/gltf-binary', picture: 'image/png', stems: 'application/octet-stream' }[kind];
    if (!type || !/^[0-9a-f]{64}$/.test(hash)) throw new Failure('not-found', 'There is no such file here.', 'Reload the page.');
    const { size, chunks } = await openBlob(context().db, hash);
    const headers = {
      'content-type': type,
      'content-length': String(size),
      'cache-control': 'private, max-age=31536000, immutable',
      'x-content-type-options': 'nosniff',
    };
    return new Response(Readable.toWeb(Readable.from(chunks, { objectMode: false })) as ReadableStream, { headers });
  }),
};
