import { matchesPattern, type Vec3 } from '../units';
import type { ObjectFacts } from './types';

/** What objects have in common that are chosen at once. */
export type ObjectRule =
  | { by: 'group' | 'material' | 'pattern'; name: string }
  /** The longest side of their boxes is under so many metres. */
  | { by: 'smaller'; thanM: number }
  /** The nearest point of their boxes is so many metres from a point. */
  | { by: 'farther'; thanM: number; from: Vec3 };

/** The longest side of an object's box, metres. */
export const longestSide = ({ min, max }: Pick<ObjectFacts, 'min' | 'max'>): number => Math.max(...max.map((v, c) => v - min[c]!));

/** How far a point is from an object's box, metres; nought inside. */
export const distanceTo = ({ min, max }: Pick<ObjectFacts, 'min' | 'max'>, point: Vec3): number =>
  Math.hypot(...point.map((v, c) => Math.max(0, min[c]! - v, v - max[c]!)));

function isMeant(object: ObjectFacts, rule: ObjectRule): boolean {
  switch (rule.by) {
    case 'group':
      return object.groups.includes(rule.name);
    case 'material':
      return object.materials.includes(rule.name);
    case 'pattern':
      return matchesPattern(rule.name, object.name);
    case 'smaller':
      return longestSide(object) < rule.thanM;
    case 'farther':
      return distanceTo(object, rule.from) > rule.thanM;
  }
}

/** Names of the objects that a rule is about. */
export const chooseBy = (objects: readonly ObjectFacts[], rule: ObjectRule): string[] =>
  objects.filter((object) => isMeant(object, rule)).map((object) => object.name);
