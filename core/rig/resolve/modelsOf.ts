import { NO_TURN, turnBetween, type Turn, type Vec3 } from '../../units';
import type { FixtureModel, Rig } from '../document/types';

/** A fixture's model as one of its copies places it in the level. */
export interface StandingModel extends Turn {
  /** The copy it belongs to. */
  placedId: string;
  /** What it is: an object of the level, or a file of the project's models. */
  source: { from: 'level'; object: string } | { from: 'file'; modelId: string };
  /** The point of the source that comes to stand at `at`. */
  pivot: Vec3;
  at: Vec3;
}

const sourceOf = (model: FixtureModel): StandingModel['source'] =>
  model.from === 'level' ? { from: 'level', object: model.object } : { from: 'file', modelId: model.modelId };

const sameTurn = (a: Turn, b: Turn): boolean =>
  (['turnDeg', 'tiltDeg', 'rollDeg'] as const).every((axis) => Math.abs(((a[axis] - b[axis] + 540) % 360) - 180) < 1e-6);

/**
 * Every model that stands in the level besides the level's own objects. A copy that stands where its fixture was made of an object
 * of the level is left out: the object itself is there. So are copies at equal objects, where the model is such an object.
 */
export function modelsOf({ fixtures, placed }: Pick<Rig, 'fixtures' | 'placed'>): StandingModel[] {
  const byId = new Map(fixtures.map((f) => [f.id, f.model]));
  // Fixtures whose model is what their copies stand at: the object is at each of them already.
  const atThemselves = new Set(
    placed.flatMap(({ fixtureId, object }) => {
      const model = byId.get(fixtureId);
      return model?.from === 'level' && model.object === object ? [fixtureId] : [];
    }),
  );
  return placed.flatMap(({ id, fixtureId, at, object, turnDeg, tiltDeg, rollDeg }) => {
    const model = byId.get(fixtureId);
    if (!model || (object !== null && atThemselves.has(fixtureId))) return [];
    const own = { turnDeg, tiltDeg, rollDeg };
    const [pivot, from]: [Vec3, Turn] = model.from === 'level' ? [model.at, model] : [[0, 0, 0], NO_TURN];
    const isAsMade = sameTurn(own, from);
    const isItself = model.from === 'level' && isAsMade && Math.hypot(...at.map((v, c) => v - pivot[c]!)) < 1e-3;
    return isItself ? [] : [{ placedId: id, source: sourceOf(model), pivot, at, ...(isAsMade ? NO_TURN : turnBetween(from, own)) }];
  });
}
