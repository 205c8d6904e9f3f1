import Joi from 'joi';
import { READY_ROLES } from '../../roles';
import { isKnown, once } from './lampSchemas';
import { ID, id } from './valueSchemas';

const BY = ['object', 'group', 'material', 'pattern'];
const AS = [...Object.keys(READY_ROLES), 'own'];
const LONGEST_NAME = 300;

const flag = Joi.boolean().required();

// Hundreds of rules may share one.
const role = once(
  Joi.object({
    drawn: flag,
    traced: flag,
    shadow: flag,
    lit: flag,
    lightmap: flag,
    bothSides: Joi.boolean().allow(null).required(),
  }),
);

const rule = Joi.object({
  id,
  by: Joi.string()
    .valid(...BY)
    .required(),
  name: Joi.string().min(1).max(LONGEST_NAME).required(),
  as: Joi.string()
    .valid(...AS)
    .required(),
  role: role.required(),
});

/** A rule for one thing by a role that was checked with another one. */
const isUsual = (value: object): boolean => {
  const { id: own, by, name, as, role: given, ...more } = value as Record<string, unknown>;
  const isName = typeof name === 'string' && name.length > 0 && name.length <= LONGEST_NAME;
  const isId = typeof own === 'string' && own.length <= 64 && ID.test(own);
  return isId && isName && BY.includes(by as string) && AS.includes(as as string) && isKnown(role, given) && Object.keys(more).length === 0;
};

/** A role for some of a level's surfaces. */
export const roleRule = once(rule, isUsual);
