import type { Vec3 } from '../../units';
import type { FixtureModel, Rig } from '../document/types';

/** A fixture's model as one of its copies places it in the level. */
export interface StandingModel {
  /** The copy it belongs to. */
  placedId: string;
  /** What it is: an object of the level, or a file of the project's models. */
  source: { from: 'level'; object: string } | { from: 'file'; modelId: string };
  /** The point of the source that comes to stand at `at`. */
  pivot: Vec3;
  at: Vec3;
  turnDeg: number;
}

const sourceOf = (model: FixtureModel): StandingModel['source'] =>
  model.from === 'level' ? { from: 'level', object: model.object } : { from: 'file', modelId: model.modelId };

/**
 * Every model that stands in the level besides the level's own objects. A copy that stands where its fixture was made of an object
 * of the level is left out: the object itself is there.
 */
export function modelsOf({ fixtures, placed }: Pick<Rig, 'fixtures' | 'placed'>): StandingModel[] {
  const byId = new Map(fixtures.map((f) => [f.id, f.model]));
  return placed.flatMap(({ id, fixtureId, at, turnDeg }) => {
    const model = byId.get(fixtureId);
    if (!model) return [];
    const [pivot, turned] = model.from === 'level' ? [model.at, turnDeg - model.turnDeg] : [[0, 0, 0] as Vec3, turnDeg];
    const isItself = model.from === 'level' && turned % 360 === 0 && Math.hypot(...at.map((v, c) => v - pivot[c]!)) < 1e-3;
    return isItself ? [] : [{ placedId: id, source: sourceOf(model), pivot, at, turnDeg: turned }];
  });
}
