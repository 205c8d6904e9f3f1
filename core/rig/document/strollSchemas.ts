import Joi from 'joi';
import { STROLL, type StrollPlace } from './strollTypes';
import { FOV_DEG } from './vantages';
import { finite, hour, id, name, vector } from './valueSchemas';

const place = Joi.object({ atS: finite(0, STROLL.seconds).required(), eye: vector, target: vector });

/** {@link StrollPlace}s in the order of their times. */
const places = Joi.array()
  .items(place)
  .min(2)
  .max(STROLL.places)
  .custom((list: StrollPlace[], { message }) => {
    if (list[0]!.atS !== 0) return message({ custom: '{{#label}} must begin at 0 seconds' });
    const isOrdered = list.every(({ atS }, i) => i === 0 || atS > list[i - 1]!.atS);
    return isOrdered ? list : message({ custom: '{{#label}} must be in the order of their times' });
  })
  .required();

const light = Joi.alternatives(
  Joi.object({ by: Joi.string().valid('day').required(), fromHour: hour, hours: finite(0, STROLL.hours).required() }),
  Joi.object({ by: Joi.string().valid('cues').required(), cueIds: Joi.array().items(id).min(1).max(64).required() }),
).required();

/** {@link Stroll} */
export const stroll = Joi.object({
  id,
  name,
  fovDeg: finite(FOV_DEG.least, FOV_DEG.most).required(),
  pace: finite(STROLL.pace.least, STROLL.pace.most).required(),
  light,
  places,
});
