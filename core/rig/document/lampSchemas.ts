import Joi from 'joi';
import { KELVIN_RANGE } from '../../units';
import { MESSAGES, degrees, finite, hex, id, name, vector } from './valueSchemas';

/** What each schema of {@link once} has found well and what cannot have changed since. */
const known = new WeakMap<Joi.Schema, WeakSet<object>>();

/** Whether a schema of {@link once} has found a part well before. */
export const isKnown = (schema: Joi.Schema, value: unknown): boolean =>
  typeof value === 'object' && value !== null && known.get(schema)!.has(value);

/**
 * A thing that is checked once: hundreds of lamps are checked with every edit, and those that were found well before and cannot
 * have changed since, being frozen, need not be again. So it is with whole parts of a rig.
 *
 * @param isUsual tells most things that the schema takes at a glance, and none that it does not: where one edit brings hundreds of them
 */
export function once(schema: Joi.Schema, isUsual: (value: object) => boolean = () => false) {
  // Settings of a schema are read once, those of a call at each.
  const strict = schema.prefs({ convert: false, messages: MESSAGES });
  const own = new WeakSet<object>();
  const checked = Joi.any().custom((value: unknown, helpers) => {
    if (typeof value === 'object' && value !== null && own.has(value)) return value;
    const isFine = typeof value === 'object' && value !== null && isUsual(value);
    const { error, value: answer } = isFine ? { error: undefined, value } : strict.validate(value);
    if (error) return helpers.message({ custom: withPlace(error.details[0]!.message, helpers.state.path!) });
    if (!Object.isFrozen(value)) return answer as unknown;
    own.add(value as object);
    return value;
  });
  known.set(checked, own);
  return checked;
}

/** A message about a part, that names it by its place in the whole. */
function withPlace(message: string, path: readonly (string | number)[]): string {
  const place = path.map((part, i) => (typeof part === 'number' ? `[${part}]` : i > 0 ? `.${part}` : part)).join('');
  return message.replace(/^"(value)?/, (_, whole) => `"${place}${whole ? '' : '.'}`).replace('.[', '[');
}

const radiusM = finite(0, 50).required();
const phase = finite(0, 1).required();
const motion = Joi.alternatives(
  Joi.object({
    as: Joi.string().valid('sweep').required(),
    phase,
    angleDeg: finite(0, 360).required(),
    periodS: finite(0.1, 3600).required(),
  }),
  Joi.object({
    as: Joi.string().valid('swing').required(),
    phase,
    lengthM: finite(0.05, 50).required(),
    angleDeg: finite(0, 80).required(),
    azimuthDeg: degrees,
  }),
  Joi.object({
    as: Joi.string().valid('path').required(),
    phase,
    through: Joi.array().items(vector).min(1).max(64).required(),
    ends: Joi.string().valid('back', 'round').required(),
    speedMps: finite(0.01, 100).required(),
  }),
);
export const lamp = Joi.object({
  id,
  name,
  at: vector,
  aim: Joi.object({ azimuthDeg: degrees, elevationDeg: finite(-90, 90).required(), rollDeg: degrees }).required(),
  shape: Joi.alternatives(
    Joi.object({ kind: Joi.string().valid('point').required(), radiusM }),
    Joi.object({
      kind: Joi.string().valid('spot').required(),
      radiusM,
      innerDeg: finite(0, 180).required(),
      outerDeg: finite(0.1, 180).min(Joi.ref('innerDeg')).required(),
      softness: finite(0, 1).required(),
    }),
    Joi.object({ kind: Joi.string().valid('tube').required(), radiusM, lengthM: finite(0.001, 500).required() }),
    Joi.object({
      kind: Joi.string().valid('panel').required(),
      widthM: finite(0.001, 500).required(),
      heightM: finite(0.001, 500).required(),
    }),
    Joi.object({ kind: Joi.string().valid('measured').required(), radiusM, profileId: id }),
  ).required(),
  output: Joi.alternatives(
    Joi.object({ by: Joi.string().valid('lumens').required(), lumens: finite(0, 1e9).required() }),
    Joi.object({ by: Joi.string().valid('candela').required(), candela: finite(0, 1e9).required() }),
    Joi.object({ by: Joi.string().valid('profile').required(), gain: finite(0, 1000).required() }),
  ).required(),
  color: Joi.alternatives(
    Joi.object({ by: Joi.string().valid('kelvin').required(), kelvin: finite(KELVIN_RANGE[0], KELVIN_RANGE[1]).required() }),
    Joi.object({ by: Joi.string().valid('hex').required(), hex }),
  ).required(),
  reachM: finite(0.01, 1e5).allow(null).required(),
  circuitId: id.allow(null),
  kept: Joi.string().valid('all', 'bounce', 'nothing').required(),
  motion: motion.allow(null).required(),
}).custom((value: { kept: string; motion: unknown }, helpers) =>
  value.motion === null || value.kept === 'nothing'
    ? value
    : helpers.message({ custom: '"value.kept" must be "nothing" for a lamp that moves: no light of it can be baked' }),
);

const turn = { turnDeg: degrees, tiltDeg: degrees, rollDeg: degrees };

export const copy = Joi.object({
  id,
  name,
  fixtureId: id,
  at: vector,
  ...turn,
  object: Joi.string().max(200).allow(null).required(),
  level: finite(0, 100).required(),
  circuitId: id.allow(null),
});

export const model = Joi.alternatives(
  Joi.object({
    from: Joi.string().valid('level').required(),
    object: Joi.string().max(200).required(),
    at: vector,
    ...turn,
  }),
  Joi.object({ from: Joi.string().valid('file').required(), modelId: id }),
);

/** {@link Moment} */
export const moment = Joi.alternatives(
  Joi.object({ at: Joi.string().valid('hour').required(), hour: finite(0, 24).required() }),
  Joi.object({ at: Joi.string().valid('sunrise', 'sunset').required(), plusH: finite(-12, 12).required() }),
).required();
export const circuit = Joi.object({
  id,
  name,
  rule: Joi.alternatives(
    Joi.object({ by: Joi.string().valid('off', 'on').required() }),
    Joi.object({ by: Joi.string().valid('hours').required(), from: moment, to: moment, apartMin: finite(0, 120).required() }),
    Joi.object({ by: Joi.string().valid('darkness').required(), belowLux: finite(0, 1e6).required() }),
  ).required(),
  bounce: finite(0, 8).required(),
  flicker: Joi.alternatives(
    Joi.object({ as: Joi.string().valid('flame').required(), amount: finite(0, 1).required(), rateHz: finite(0.05, 30).required() }),
    Joi.object({ as: Joi.string().valid('failing').required(), offShare: finite(0, 0.9).required(), perMin: finite(0.1, 600).required() }),
    Joi.object({
      as: Joi.string().valid('pulse').required(),
      periodS: finite(0.1, 600).required(),
      onShare: finite(0.01, 1).required(),
      softness: finite(0, 1).required(),
    }),
  )
    .allow(null)
    .required(),
});

/** {@link GlowRule} */
export const glow = Joi.object({
  id,
  material: Joi.string().max(200).required(),
  objects: Joi.array().items(Joi.string().max(200)).min(1).max(5000).unique().allow(null).required(),
  circuitId: id.allow(null),
  emission: Joi.object({ luminance: finite(0, 1e9).required(), color: hex })
    .allow(null)
    .required(),
  shownEv: finite(-16, 6).required(),
});
