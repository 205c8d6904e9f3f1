import { Failure, NO_TURN, type Turn, type Vec3 } from '../units';
import { addModels } from './addModels';
import type { Surfaces } from './types';

/** A model of a fixture as it stands in a level: an object of the level itself, or a file of its project. */
export interface ModelOfRig extends Turn {
  source: { from: 'level'; object: string } | { from: 'file'; modelId: string };
  pivot: Vec3;
  at: Vec3;
}

/**
 * A level with the models of its rig's fixtures standing in it.
 *
 * @param files the models that are files, by their ids. Throws a `bad-input` Failure where one of them is missing.
 * @param wear what a model stands there as, by what it is of
 */
export function standModels<M extends ModelOfRig>(
  level: Surfaces,
  models: readonly M[],
  files: ReadonlyMap<string, Surfaces> = new Map(),
  wear: (surfaces: Surfaces, model: M) => Surfaces = (surfaces) => surfaces,
): Surfaces {
  return addModels(
    level,
    models.map((model) => {
      const { source, ...placed } = model;
      const surfaces = source.from === 'level' ? level : files.get(source.modelId);
      if (!surfaces) {
        throw new Failure(
          'bad-input',
          'A fixture has a model of its own, which only its project holds.',
          'Bake the project itself, or give the fixture an object of the level.',
        );
      }
      return { surfaces: wear(surfaces, model), object: source.from === 'level' ? source.object : null, ...NO_TURN, ...placed };
    }),
  );
}
