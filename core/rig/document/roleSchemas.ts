import Joi from 'joi';
import { READY_ROLES } from '../../roles';
import { once } from './lampSchemas';
import { id } from './valueSchemas';

const flag = Joi.boolean().required();

/** A role for some of a level's surfaces. */
export const roleRule = Joi.object({
  id,
  by: Joi.string().valid('object', 'group', 'material', 'pattern').required(),
  name: Joi.string().min(1).max(300).required(),
  as: Joi.string()
    .valid(...Object.keys(READY_ROLES), 'own')
    .required(),
  // Hundreds of rules may share one.
  role: once(
    Joi.object({
      drawn: flag,
      traced: flag,
      shadow: flag,
      lit: flag,
      lightmap: flag,
      bothSides: Joi.boolean().allow(null).required(),
    }),
  ).required(),
});
