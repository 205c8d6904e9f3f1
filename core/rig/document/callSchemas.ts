import Joi from 'joi';
import { moment } from './lampSchemas';
import { finite, hex, id, name, vector } from './valueSchemas';

/** {@link Dimmer} */
export const dimmer = Joi.object({ on: Joi.boolean().required(), level: finite(0, 4).required(), tint: hex });

const phase = finite(0, 1).required();

/** {@link CallWhen} */
const when = Joi.alternatives(
  Joi.object({
    by: Joi.string().valid('event').required(),
    event: name,
    until: Joi.alternatives(
      Joi.object({ is: Joi.string().valid('over', 'kept').required() }),
      Joi.object({ is: Joi.string().valid('after').required(), seconds: finite(0.1, 1e6).required() }),
    ).required(),
  }),
  Joi.object({
    by: Joi.string().valid('day').required(),
    from: moment,
    to: moment,
    days: Joi.object({
      every: Joi.number().integer().min(1).max(1000).required(),
      first: Joi.number().integer().min(0).max(1000).required(),
      moon: Joi.object({ from: phase, to: phase }).allow(null).required(),
    }).required(),
  }),
  Joi.object({
    by: Joi.string().valid('place').required(),
    min: vector,
    max: vector,
    blendM: finite(0, 1000).required(),
  }),
).required();

/** {@link Call} */
export const call = Joi.object({
  id,
  name,
  when,
  priority: Joi.number().integer().min(0).max(100).required(),
  cueId: id.allow(null),
  circuits: Joi.object()
    .pattern(/^[a-z0-9-]+$/, dimmer)
    .required(),
  fadeS: finite(0, 600).allow(null).required(),
  clock: Joi.object({ to: moment.allow(null), overS: finite(0, 3600).required(), pace: finite(0, 1000).required() })
    .allow(null)
    .required(),
  mayBegin: Joi.boolean().required(),
});
