import type {
  BakeExtent,
  BakeOrder,
  BakeParts,
  BakesNow,
  CatalogueView,
  CityView,
  CoresChange,
  CoresView,
  ErrorBody,
  HealthView,
  HistoryEntry,
  IntakeView,
  KeptBakes,
  LookView,
  ModelView,
  Occupied,
  ProjectCard,
  ProjectView,
  ShelfEntry,
  SkyImageChange,
  SkyImageView,
} from '../../core/api';
import type { Rig, ShelfKind } from '../../core/rig';
import { Failure, type GroundBox } from '../../core/units';

/** The server could not be reached at all; nothing is known about what it would have said. */
export class Unreachable extends Error {
  constructor(cause: unknown) {
    super('Basil’s server does not answer.', { cause });
    this.name = 'Unreachable';
  }
}

async function ask<T>(path: string, init?: RequestInit): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, init);
  } catch (cause) {
    throw new Unreachable(cause);
  }
  if (!response.ok) throw await failureOf(response);
  return (await response.json()) as T;
}

async function failureOf(response: Response): Promise<Error> {
  const body = (await response.json().catch(() => null)) as ErrorBody | null;
  if (!body?.error) return new Unreachable(new Error(`status ${response.status}`));
  return new Failure(body.error.code, body.error.message, body.error.remedy);
}

const json = (method: string, body: unknown): RequestInit => ({
  method,
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify(body),
});

/** The server's answers, each a promise that is rejected with a Failure or with {@link Unreachable}. */
export const api = {
  health: () => ask<HealthView>('/api/health'),
  projects: () => ask<ProjectCard[]>('/api/projects'),
  project: (id: string) => ask<ProjectView>(`/api/projects/${id}`),
  rename: (id: string, name: string) => ask<object>(`/api/projects/${id}`, json('PATCH', { name })),
  remove: (id: string) => ask<object>(`/api/projects/${id}`, { method: 'DELETE' }),
  erase: (id: string) => ask<object>(`/api/projects/${id}?for=good`, { method: 'DELETE' }),
  takeFinish: (id: string) => ask<object>(`/api/intakes/${id}`, { method: 'POST' }),
  deleted: () => ask<ProjectCard[]>('/api/deleted'),
  takeBack: (id: string) => ask<object>(`/api/deleted/${id}`, { method: 'POST' }),
  occupied: () => ask<Occupied[]>('/api/occupied'),
  tidy: (id: string) => ask<object>(`/api/occupied/${id}`, { method: 'POST' }),
  saveRig: (id: string, base: number, rig: Rig, note: string) =>
    ask<{ revision: number }>(`/api/projects/${id}/rig`, json('POST', { base, rig, note })),
  readAgain: (id: string) => ask<{ intakeId: string | null }>(`/api/projects/${id}/level`, { method: 'POST' }),
  rigRevision: (id: string, revision: number) => ask<{ rig: unknown }>(`/api/projects/${id}/rig?revision=${revision}`),
  shelf: () => ask<ShelfEntry[]>('/api/shelf'),
  shelfThing: (id: string) => ask<{ kind: ShelfKind; name: string; rig: unknown }>(`/api/shelf/${id}`),
  keepOnShelf: (kind: ShelfKind, rig: Rig) => ask<{ id: string; name: string }>('/api/shelf', json('POST', { kind, rig })),
  renameOnShelf: (id: string, name: string) => ask<object>(`/api/shelf/${id}`, json('PATCH', { name })),
  removeFromShelf: (id: string) => ask<object>(`/api/shelf/${id}`, { method: 'DELETE' }),
  history: (id: string) => ask<HistoryEntry[]>(`/api/projects/${id}/history`),
  nameRevision: (id: string, revision: number, name: string | null) =>
    ask<object>(`/api/projects/${id}/history/${revision}`, json('PATCH', { name })),
  setRevisionPicture: (id: string, revision: number, picture: Blob) =>
    ask<object>(`/api/projects/${id}/history/${revision}/picture`, { method: 'PUT', body: picture }),
  bakes: (id: string) => ask<BakesNow>(`/api/projects/${id}/bakes`),
  bakeParts: (id: string) => ask<BakeParts>(`/api/bakes/${id}`),
  bake: (id: string, extent: BakeExtent) => ask<{ id: string; fresh: boolean }>(`/api/projects/${id}/bakes`, json('POST', extent)),
  look: (id: string) => ask<LookView>(`/api/projects/${id}/look`),
  askLook: (id: string, box: GroundBox | null) => ask<object>(`/api/projects/${id}/look`, json('POST', { box })),
  keptBakes: (id: string) => ask<KeptBakes>(`/api/projects/${id}/bakes/kept`),
  keepBaking: (id: string, on: boolean) => ask<object>(`/api/projects/${id}/bakes/keep`, json('PUT', { on })),
  orderBake: (id: string, order: BakeOrder) => ask<object>(`/api/bakes/${id}`, json('PATCH', order)),
  deleteBake: (id: string) => ask<object>(`/api/bakes/${id}?for=good`, { method: 'DELETE' }),
  cancelBake: (id: string) => ask<object>(`/api/bakes/${id}`, { method: 'DELETE' }),
  intakes: () => ask<IntakeView[]>('/api/intakes'),
  intake: (id: string) => ask<IntakeView>(`/api/intakes/${id}`),
  skies: (id: string) => ask<SkyImageView[]>(`/api/projects/${id}/skies`),
  changeSky: (id: string, image: string, change: SkyImageChange) =>
    ask<object>(`/api/projects/${id}/skies/${image}`, json('PATCH', change)),
  copySky: (id: string, image: string) => ask<{ id: string }>(`/api/projects/${id}/skies/${image}`, { method: 'POST' }),
  deleteSky: (id: string, image: string) => ask<object>(`/api/projects/${id}/skies/${image}`, { method: 'DELETE' }),
  models: (id: string) => ask<ModelView[]>(`/api/projects/${id}/models`),
  catalogues: () => ask<CatalogueView[]>('/api/catalogues'),
  fetchSky: (id: string, address: string, item: string) =>
    ask<{ id: string }>(`/api/projects/${id}/skies/fetched`, json('POST', { address, item })),
  cities: (name: string) => ask<CityView[]>(`/api/cities?${new URLSearchParams({ name })}`),
  cores: () => ask<CoresView>('/api/cores'),
  useCores: (change: Partial<CoresChange>) => ask<object>('/api/cores', json('POST', change)),
  dropIntake: (id: string) => ask<object>(`/api/intakes/${id}`, { method: 'DELETE' }),
};

/** Where a stored file lies. */
export const fileUrl = (hash: string, as: 'level' | 'picture' | 'stems' | 'sky') => `/api/files/${hash}?as=${as}`;

/** Sends a level's file; `into` names the project whose level it becomes. Told the share sent, 0..1. */
export function sendLevel(
  file: File,
  into: string | null,
  progress: (share: number) => void,
  signal: AbortSignal,
): Promise<{ id: string }> {
  return sendFile('POST', `/api/intakes?${new URLSearchParams({ name: file.name, ...(into ? { into } : {}) })}`, file, progress, signal);
}

/** Sends another finished version of a project's level. Told the share sent, 0..1. */
export function sendFinish(file: File, projectId: string, progress: (share: number) => void, signal: AbortSignal): Promise<{ id: string }> {
  return sendFile('POST', `/api/projects/${projectId}/finishes?${new URLSearchParams({ name: file.name })}`, file, progress, signal);
}

/** Sends the file of a fixture's model. Told the share sent, 0..1. */
export function sendModel(file: File, projectId: string, progress: (share: number) => void, signal: AbortSignal): Promise<{ id: string }> {
  return sendFile('POST', `/api/projects/${projectId}/models?${new URLSearchParams({ name: file.name })}`, file, progress, signal);
}

/** Sends a sky image's file to the shelf of a project, or in the place of an image's file there. Told the share sent, 0..1. */
export function sendSky(
  file: File,
  projectId: string,
  inPlaceOf: string | null,
  progress: (share: number) => void,
  signal: AbortSignal,
): Promise<{ id: string }> {
  const shelf = `/api/projects/${projectId}/skies`;
  const query = new URLSearchParams({ name: file.name });
  return inPlaceOf
    ? sendFile('PUT', `${shelf}/${inPlaceOf}?${query}`, file, progress, signal)
    : sendFile('POST', `${shelf}?${query}`, file, progress, signal);
}

function sendFile(
  method: 'POST' | 'PUT',
  path: string,
  file: File,
  progress: (share: number) => void,
  signal: AbortSignal,
): Promise<{ id: string }> {
  return new Promise((resolve, reject) => {
    // fetch tells nothing of an upload's progress.
    const request = new XMLHttpRequest();
    request.open(method, path);
    request.upload.onprogress = (event) => event.lengthComputable && progress(event.loaded / event.total);
    request.onload = () => {
      const response = new Response(request.responseText, { status: request.status });
      if (response.ok) response.json().then(resolve, reject);
      else failureOf(response).then(reject, reject);
    };
    request.onerror = () => reject(new Unreachable(new Error('upload')));
    request.onabort = () => reject(new Failure('cancelled', 'The upload was cancelled.'));
    signal.addEventListener('abort', () => request.abort());
    request.send(file);
  });
}
