import Joi from 'joi';
import { drawnDayFault, type DrawnDay } from '../../almanac';
import { KELVIN_RANGE } from '../../units';
import { fromItsRise, type BodyPath } from './night';
import { finite, hex } from './valueSchemas';

/** What a cue may hold of the moon. */
export const moon = {
  azimuthDeg: finite(0, 360),
  elevationDeg: finite(-90, 90),
  illuminanceLux: finite(0, 1e7),
  colorK: finite(KELVIN_RANGE[0], KELVIN_RANGE[1]),
  discDeg: finite(0.05, 30),
  litShare: finite(0, 1),
};

/** How a body is seen. */
export const look = {
  lights: Joi.boolean(),
  seen: Joi.boolean(),
  discDeg: finite(0.05, 60).allow(null),
  halo: finite(0, 1),
  haloDeg: finite(0.1, 30),
  haloColor: hex.optional(),
};

/** Fields of the night. */
export const night = {
  glowCdM2: finite(0, 10),
  glowColor: hex.optional(),
  starsEv: finite(-12, 12),
  skyEv: finite(-6, 12),
};

const drawnBy = (faultOf: (day: DrawnDay) => string | null) =>
  Joi.object({
    riseH: finite(0, 24).required(),
    highestH: finite(0, 24).required(),
    setH: finite(0, 24).required(),
    highestDeg: finite(-90, 90).required(),
    bearingDeg: finite(0, 360).required(),
  })
    .custom((day: DrawnDay, helpers) => {
      const fault = faultOf(day);
      const where = helpers.state.path?.join('.') ?? 'drawn';
      return fault ? helpers.message({ custom: `"${where}" makes no day: ${fault.replace(/\.$/, '')}` }) : day;
    })
    .required();

/** A day that is drawn by hand. */
export const drawn = drawnBy(drawnDayFault);

const PATHS: Record<BodyPath['by'], Joi.SchemaMap> = {
  behind: { behindH: finite(-24, 24).required() },
  own: { drawn: drawnBy((day) => drawnDayFault(fromItsRise(day, 0).day)) },
  still: { azimuthDeg: finite(0, 360).required(), elevationDeg: finite(-90, 90).required() },
};

/** Where a further body goes. */
export const path = Joi.alternatives()
  .conditional('.by', {
    switch: Object.entries(PATHS).map(([by, fields]) => ({ is: by, then: Joi.object({ by: Joi.string().required(), ...fields }) })),
    otherwise: Joi.object({
      by: Joi.string()
        .valid(...Object.keys(PATHS))
        .required(),
    }).unknown(),
  })
  .required();
