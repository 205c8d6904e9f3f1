import { addModels, type Surfaces } from '../../level';
import type { StandingModel } from '../../rig';
import { Failure } from '../../units';

/**
 * A level with the models of its rig's fixtures standing in it.
 *
 * @param files the models that are files, by their ids. Throws a `bad-input` Failure where one of them is missing.
 */
export function standModels(level: Surfaces, models: readonly StandingModel[], files: ReadonlyMap<string, Surfaces> = new Map()): Surfaces {
  return addModels(
    level,
    models.map(({ source, pivot, at, turnDeg }) => {
      const surfaces = source.from === 'level' ? level : files.get(source.modelId);
      if (!surfaces) {
        throw new Failure(
          'bad-input',
          'A fixture has a model of its own, which only its project holds.',
          'Bake the project itself, or give the fixture an object of the level.',
        );
      }
      return { surfaces, object: source.from === 'level' ? source.object : null, pivot, at, turnDeg };
    }),
  );
}
