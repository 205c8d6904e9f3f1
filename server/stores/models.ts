import type { ModelView } from '../../core/api';
import { Failure } from '../../core/units';
import { readBlob, type Db } from '../data';

/** Most triangles of a fixture's model: copies of it are many. */
export const MAX_MODEL_TRIANGLES = 50_000;

/** The models that a project's fixtures can look like, by name. */
export async function modelsOfProject(db: Db, projectId: string): Promise<ModelView[]> {
  return db.selectFrom('models').select(['id', 'name', 'hash', 'triangles']).where('project_id', '=', projectId).orderBy('name').execute();
}

/** The binary glTF of a model. Throws a `not-found` {@link Failure}. */
export async function readModel(db: Db, projectId: string, id: string): Promise<Uint8Array> {
  const row = await db.selectFrom('models').select('hash').where('project_id', '=', projectId).where('id', '=', id).executeTakeFirst();
  if (!row)
    throw new Failure(
      'not-found',
      'A fixture has a model that this project does not hold.',
      'Give the fixture another model in the Lamps room.',
    );
  return readBlob(db, row.hash);
}
