import { Readable } from 'node:stream';
import { Failure } from '../../core/units';
import { FORMS, type HealthView } from '../../core/api';
import { diskRoom, openBlob } from '../data';
import {
  bakeParts,
  bakesNow,
  coresOf,
  useCores,
  beginLook,
  cancelBake,
  continueBake,
  deleteBake,
  endByItself,
  finishBakeEarly,
  lookFrom,
  setKeepBaking,
  keptBakes,
  pinBake,
  pauseBake,
  deleteProject,
  deletedProjects,
  eraseProject,
  occupied,
  takeProjectBack,
  tidyProject,
  dropIntake,
  listIntakes,
  listProjects,
  listHistory,
  keepOnShelf,
  listShelf,
  removeFromShelf,
  renameOnShelf,
  shelfThing,
  nameRevision,
  revisionPicture,
  setRevisionPicture,
  MAX_PICTURE_BYTES,
  lookOf,
  modelsOfProject,
  openProject,
  readAgain,
  readIntake,
  receiveLevel,
  takeFinish,
  renameProject,
  changeSkyImage,
  copySkyImage,
  deleteSkyImage,
  receiveSkyImage,
  replaceSkyFile,
  requestBake,
  requestOpenings,
  retryBake,
  skyImagesOf,
  rigRevision,
  saveRig,
  workersOf,
} from '../stores';
import { catalogueAddresses, fetchItem, readCatalogue } from '../catalogues';
import { findCities } from '../places';
import { context } from './context';
import { answer, checkId, readForm } from './respond';
import { projectEvents } from './events';
import { fileOf } from './upload';

type Id = { id: string };
type OfRevision = Id & { revision: string };

/** The number of a revision, checked for its form. */
function checkRevision(text: string): number {
  const revision = Number(text);
  if (!/^\d{1,10}$/.test(text) || revision < 1 || revision > 2 ** 31 - 1)
    throw new Failure('not-found', 'There is no such revision here.', 'Reload the history.');
  return revision;
}

/** How long a browser may keep what never changes. */
const FOR_GOOD = 'private, max-age=31536000, immutable';
/** A stored file is sent as it is stored: its length tells how much of it has come. */
const AS_IT_IS = `${FOR_GOOD}, no-transform`;

/** Whether what is asked to be deleted goes for good. */
const isForGood = (request: Request): boolean => new URL(request.url).searchParams.get('for') === 'good';

/** What the routes under app/api do, one entry for each. */
export const routes = {
  health: answer(async (): Promise<HealthView> => {
    const [{ workers }, room] = await Promise.all([workersOf(context().db), diskRoom(context().db)]);
    if (room === null) return { workers, disk: null };
    const state = room.holds ? 'held' : room.free < room.reserve ? 'low' : 'ample';
    return { workers, disk: { freeMB: Math.floor(room.free / 1e6), state } };
  }),

  findCities: answer((request) => Promise.resolve(findCities(new URL(request.url).searchParams.get('name') ?? ''))),

  listProjects: answer(() => listProjects(context().db)),
  openProject: answer<Id>((_, { id }) => openProject(context().db, checkId(id))),
  renameProject: answer<Id>(async (request, { id }) =>
    renameProject(context().db, checkId(id), (await readForm(request, FORMS.rename)).name),
  ),
  /** Takes a project off the shelf; one that is off it already is deleted for good. */
  deleteProject: answer<Id>((request, { id }) =>
    isForGood(request) ? eraseProject(context().db, checkId(id)) : deleteProject(context().db, checkId(id)),
  ),
  deletedProjects: answer(() => deletedProjects(context().db)),
  takeProjectBack: answer<Id>((_, { id }) => takeProjectBack(context().db, checkId(id))),
  occupied: answer(() => occupied(context().db)),
  tidyProject: answer<Id>((_, { id }) => tidyProject(context().db, checkId(id))),

  rigRevision: answer<Id>((request, { id }) => {
    const revision = Number(new URL(request.url).searchParams.get('revision') ?? '');
    if (!Number.isInteger(revision) || revision < 1 || revision > 2 ** 31 - 1)
      throw new Failure('bad-input', 'Which revision of the rig is asked for is not clear.', 'Send its number as "revision".');
    return rigRevision(context().db, checkId(id), revision);
  }),
  saveRig: answer<Id>(async (request, { id }) => {
    const { base, rig, note } = await readForm(request, FORMS.saveRig);
    const saved = await saveRig(context().db, checkId(id), base, rig, note);
    // What follows the edits begins again after the next pause.
    await endByItself(context().db, id);
    return saved;
  }),

  shelf: answer(() => listShelf(context().db)),
  keepOnShelf: answer(async (request) => {
    const { kind, rig } = await readForm(request, FORMS.keepOnShelf);
    return keepOnShelf(context().db, kind, rig);
  }),
  shelfThing: answer<Id>((_, { id }) => shelfThing(context().db, checkId(id))),
  renameOnShelf: answer<Id>(async (request, { id }) => {
    await renameOnShelf(context().db, checkId(id), (await readForm(request, FORMS.rename)).name);
    return {};
  }),
  removeFromShelf: answer<Id>(async (_, { id }) => {
    await removeFromShelf(context().db, checkId(id));
    return {};
  }),

  history: answer<Id>((_, { id }) => listHistory(context().db, checkId(id))),
  nameRevision: answer<OfRevision>(async (request, { id, revision }) => {
    await nameRevision(context().db, checkId(id), checkRevision(revision), (await readForm(request, FORMS.nameRevision)).name);
    return {};
  }),
  revisionPicture: answer<OfRevision>(async (_, { id, revision }) => {
    const picture = await revisionPicture(context().db, checkId(id), checkRevision(revision));
    return new Response(new Uint8Array(picture), { headers: { 'content-type': 'image/png', 'cache-control': 'private, max-age=3600' } });
  }),
  setRevisionPicture: answer<OfRevision>(async (request, { id, revision }) => {
    const { body } = await fileOf(context().db, request, 'picture');
    const parts: Uint8Array[] = [];
    let bytes = 0;
    for await (const part of body) {
      parts.push(part);
      bytes += part.length;
      if (bytes > MAX_PICTURE_BYTES) break;
    }
    await setRevisionPicture(context().db, checkId(id), checkRevision(revision), Buffer.concat(parts));
    return {};
  }),
  /** What happens to the project while a page looks at it. */
  events: answer<Id>(async (request, { id }) => {
    await listHistory(context().db, checkId(id));
    return projectEvents(context().db, id, request.signal);
  }),

  readAgain: answer<Id>((_, { id }) => readAgain(context().db, checkId(id))),

  bakes: answer<Id>((_, { id }) => bakesNow(context().db, checkId(id))),
  /** What a bake holds: of one that is done it may be kept for good. */
  bakeParts: answer<Id>(async (_, { id }) => {
    const { parts, final } = await bakeParts(context().db, checkId(id));
    return Response.json(parts, { headers: { 'cache-control': final ? FOR_GOOD : 'no-store' } });
  }),
  requestBake: answer<Id>(async (request, { id }) => {
    const extent = await readForm(request, FORMS.bake);
    await endByItself(context().db, checkId(id));
    return extent.openings ? requestOpenings(context().db, id) : requestBake(context().db, id, extent);
  }),
  look: answer<Id>((_, { id }) => lookOf(context().db, checkId(id))),
  askLook: answer<Id>(async (request, { id }) => {
    const { box } = await readForm(request, FORMS.look);
    await openProject(context().db, checkId(id));
    await beginLook(context().db, id, box);
    return {};
  }),
  keepBaking: answer<Id>(async (request, { id }) => {
    await setKeepBaking(context().db, checkId(id), (await readForm(request, FORMS.keepBaking)).on);
    return {};
  }),
  keptBakes: answer<Id>((_, { id }) => keptBakes(context().db, checkId(id))),
  /** Pauses a bake, lets it go on, tries one that failed again, finishes it early, says where it is looked at from, or pins one that is done. */
  changeBake: answer<Id>(async (request, { id }) => {
    const change = await readForm(request, FORMS.changeBake);
    if ('again' in change) await retryBake(context().db, checkId(id));
    else if ('early' in change) await finishBakeEarly(context().db, checkId(id));
    else if ('eye' in change) await lookFrom(context().db, checkId(id), change.eye);
    else if ('pinned' in change) await pinBake(context().db, checkId(id), change.pinned);
    else if (change.paused) await pauseBake(context().db, checkId(id));
    else await continueBake(context().db, checkId(id));
    return {};
  }),
  /** Cancels a bake that is at work or failed; `for=good` deletes one that is done. */
  cancelBake: answer<Id>((request, { id }) =>
    isForGood(request) ? deleteBake(context().db, checkId(id)) : cancelBake(context().db, checkId(id)),
  ),

  cores: answer(() => coresOf(context().db)),
  useCores: answer(async (request) => useCores(context().db, await readForm(request, FORMS.cores))),

  listIntakes: answer(() => listIntakes(context().db)),
  readIntake: answer<Id>((_, { id }) => readIntake(context().db, checkId(id))),
  takeFinish: answer<Id>(async (_, { id }) => {
    await takeFinish(context().db, checkId(id));
    return {};
  }),
  receiveFinish: answer<Id>(async (request, { id }) => {
    const { name, body } = await fileOf(context().db, request, 'level');
    const intake = await receiveLevel(context().db, name, body, checkId(id), 'finish');
    return intake;
  }),
  dropIntake: answer<Id>((_, { id }) => dropIntake(context().db, checkId(id))),
  receiveLevel: answer(async (request) => {
    const { name, body } = await fileOf(context().db, request, 'level');
    const into = new URL(request.url).searchParams.get('into');
    const intake = await receiveLevel(context().db, name, body, into === null ? null : checkId(into));
    return intake;
  }),

  models: answer<Id>((_, { id }) => modelsOfProject(context().db, checkId(id))),
  receiveModel: answer<Id>(async (request, { id }) => {
    const { name, body } = await fileOf(context().db, request, 'model');
    const intake = await receiveLevel(context().db, name, body, checkId(id), 'model');
    return intake;
  }),

  catalogues: answer(() =>
    Promise.all(
      catalogueAddresses().map((address) =>
        readCatalogue(address).catch((error: unknown) => {
          if (error instanceof Failure) return { address, name: new URL(address).host, items: [], error: error.sentence };
          throw error;
        }),
      ),
    ),
  ),
  /** Fetches an image of a collection to the shelf of a project. */
  fetchSkyImage: answer<Id>(async (request, { id }) => {
    const { address, item: itemId } = await readForm(request, FORMS.fetchSky);
    const { item, fileName, bytes } = await fetchItem(address, itemId);
    const image = await receiveSkyImage(context().db, checkId(id), fileName, bytes, { name: item.name, tags: item.tags });
    return image;
  }),
  skyImages: answer<Id>((_, { id }) => skyImagesOf(context().db, checkId(id))),
  receiveSkyImage: answer<Id>(async (request, { id }) => {
    const { name, body } = await fileOf(context().db, request, 'sky');
    const image = await receiveSkyImage(context().db, checkId(id), name, body);
    return image;
  }),
  changeSkyImage: answer<Id & { image: string }>(async (request, { id, image }) => {
    await changeSkyImage(context().db, checkId(id), checkId(image), await readForm(request, FORMS.changeSky));
    return {};
  }),
  /** Another file in the place of an image's. */
  replaceSkyFile: answer<Id & { image: string }>(async (request, { id, image }) => {
    const { name, body } = await fileOf(context().db, request, 'sky');
    await replaceSkyFile(context().db, checkId(id), checkId(image), name, body);
    return { id: image };
  }),
  copySkyImage: answer<Id & { image: string }>((_, { id, image }) => copySkyImage(context().db, checkId(id), checkId(image))),
  deleteSkyImage: answer<Id & { image: string }>(async (_, { id, image }) => {
    await deleteSkyImage(context().db, checkId(id), checkId(image));
    return {};
  }),

  /** A stored file by its hash; `as` says what it is. Its content never changes, so it may be kept for good. */
  file: answer<{ hash: string }>(async (request, { hash }) => {
    const kind = new URL(request.url).searchParams.get('as') ?? '';
    const type = { level: 'model/gltf-binary', picture: 'image/png', stems: 'application/octet-stream', sky: 'image/vnd.radiance' }[kind];
    if (!type || !/^[0-9a-f]{64}$/.test(hash)) throw new Failure('not-found', 'There is no such file here.', 'Reload the page.');
    // A hash stands for one content alone: who has it has it still.
    if (request.headers.get('if-none-match')?.includes(`"${hash}"`))
      return new Response(null, { status: 304, headers: { etag: `"${hash}"` } });
    const { size, chunks } = await openBlob(context().db, hash);
    const headers = {
      'content-type': type,
      'content-length': String(size),
      'cache-control': AS_IT_IS,
      etag: `"${hash}"`,
      'x-content-type-options': 'nosniff',
    };
    return new Response(Readable.toWeb(Readable.from(chunks, { objectMode: false })) as ReadableStream, { headers });
  }),
};
