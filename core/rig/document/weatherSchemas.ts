import Joi from 'joi';
import { finite, hex, id, name } from './valueSchemas';
import { whole } from './moodSchemas';

const share = finite(0, 1);
const shareOrNull = share.allow(null);

/** Values of the weather: the day has all of them, a cue those that it holds. */
export const weather = {
  cover: shareOrNull,
  rateMmH: finite(0, 300),
  temperatureC: finite(-60, 60),
  windMps: finite(0, 80),
  windFromDeg: finite(0, 360),
  dustM: finite(5, 1e5).allow(null),
  lightningPerMin: finite(0, 60),
  lightningKm: finite(0.1, 100),
  flash: share,
  wet: shareOrNull,
  puddles: shareOrNull,
  snow: shareOrNull,
  snowLineM: finite(-1e4, 1e4).allow(null),
  snowLineSoftM: finite(0.1, 1e4),
  snowLineFall: finite(0, 100),
  snowLineFog: finite(1, 100),
};

/** A weather that comes and goes again, minutes after its cue. */
export const weatherTurn = Joi.object({
  to: Joi.object(weather).min(1).required(),
  beginMin: finite(0, 1440).required(),
  overMin: finite(0.1, 1440).required(),
  staysMin: finite(0, 1440).required(),
  backMin: finite(0.1, 1440).required(),
});

export const namedWeather = Joi.object({ id, name, weather: whole(weather) });

export const materialRule = Joi.object({
  id,
  pattern: Joi.string().trim().min(1).max(120).required(),
  wet: share.required(),
  puddles: share.required(),
  snow: share.required(),
  dust: share.required(),
});

/** Values of the water. */
export const water = {
  levelM: finite(-1e4, 1e4).allow(null),
  color: hex.optional(),
  clarityM: finite(0.02, 100),
  ripplesMps: finite(0, 40).allow(null),
};
