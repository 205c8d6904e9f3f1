import { Failure } from '../../units';
import { pinAirs } from './airs';
import { defaultRig, fixedExposure } from './defaults';
import { SHADOW_REACH_M } from './liveShadows';
import { checkRig } from './schema';
import { RIG_VERSION, type Rig } from './types';

type Document = Record<string, unknown>;

/** Version 1 had neither place nor day: each cue set its own sun, painted sky and exposure, which it now holds. */
function fromOne(document: Document): Document {
  const { place, day, airs, exposure } = defaultRig();
  const cues = Array.isArray(document.cues) ? (document.cues as Document[]) : [];
  return {
    ...document,
    place,
    day,
    airId: 'clear',
    airs,
    exposure,
    cues: cues.map(({ sun, sky, exposureEv100, ...rest }) => ({
      ...rest,
      kind: 'timed',
      holds: { sun, sky, exposure: fixedExposure(exposureEv100 as number) },
    })),
  };
}

/** Version 2 drew live shadows at one fixed reach, which is now the middle choice. */
const fromTwo = (document: Document): Document => ({ ...document, liveShadows: 'middle' });

/** Version 3 had no lamps. */
const fromThree = (document: Document): Document => {
  const { lamps, fixtures, placed, circuits, profiles, liveLamps } = defaultRig();
  return { ...document, lamps, fixtures, placed, circuits, profiles, liveLamps };
};

/** Fixtures of version 4 had no models. */
const fromFour = (document: Document): Document => ({
  ...document,
  fixtures: (document.fixtures as Document[]).map((fixture) => ({ ...fixture, model: null })),
});

/** Version 5 knew no density of single objects. */
const fromFive = (document: Document): Document => ({
  ...document,
  bake: { ...(document.bake as Document), densities: {} },
});

/** Stems of version 6 had no budget. */
const fromSix = (document: Document): Document => ({
  ...document,
  bake: { ...(document.bake as Document), budgetMB: 512 },
});

/** Version 7 had neither fog nor grade. */
const fromSeven = (document: Document): Document => {
  const { fog, volumes, grade } = defaultRig();
  return { ...document, fog, volumes, grade };
};

/** Version 8 showed each glowing material as bright as it lights; it knew no weather and no water, its night was always the same, and further bodies rode the sun's path. */
const fromEight = (document: Document): Document => {
  const { weather, weathers, materials, water, night } = defaultRig();
  const day = document.day as Document & { others: Document[] };
  const others = day.others.map(({ behindH, ...body }) => ({ ...body, path: { by: 'behind', behindH } }));
  return { ...document, glowsShownEv: {}, weather, weathers, materials, water, night, day: { ...day, others } };
};

/** Version 9 knew no roles of surfaces, kept no grades of its own, and its fog was no thicker above the snow line. */
const fromNine = (document: Document): Document => {
  const soft = (weather: unknown) => ({ ...(weather as Document), snowLineFog: 1 });
  const weathers = (document.weathers as Document[]).map((set) => ({ ...set, weather: soft(set.weather) }));
  return { ...document, grades: [], roles: [], weather: soft(document.weather), weathers };
};

/** Version 10 took every level as glTF says, gave densities to single objects alone, and lit all that it drew. */
const fromTen = (document: Document): Document => ({
  ...document,
  roles: (document.roles as Document[]).map((rule) => ({ ...rule, role: { ...(rule.role as Document), lit: true } })),
  placing: null,
  bake: { ...(document.bake as Document), groupDensities: {} },
});

/** Copies and models of version 11 turned about the upright axis alone and knew no object they were put at; bounce of a circuit could not be trimmed. */
const fromEleven = (document: Document): Document => {
  const turned = (thing: Document) => ({ ...thing, tiltDeg: 0, rollDeg: 0 });
  return {
    ...document,
    fixtures: (document.fixtures as Document[]).map((fixture) => {
      const model = fixture.model as Document | null;
      return { ...fixture, without: [], model: model?.from === 'level' ? turned(model) : model };
    }),
    placed: (document.placed as Document[]).map((copy) => ({ ...turned(copy), object: null })),
    circuits: (document.circuits as Document[]).map((circuit) => ({ ...circuit, bounce: 1 })),
  };
};

/**
 * Circuits of version 12 named their glowing materials, and how much brighter than it lights a material is shown was said beside them. The reach of
 * live shadows was one of three.
 */
function fromTwelve({ glowsShownEv = {}, liveShadows, ...document }: Document): Document {
  const circuits = document.circuits as (Document & { id: string; glows?: string[] })[];
  const circuitOf = new Map(circuits.flatMap(({ id, glows = [] }) => glows.map((material) => [material, id] as const)));
  const shown = new Map(Object.entries(glowsShownEv as Record<string, number>));
  return {
    ...document,
    shadowReachM: { near: 30, far: 250 }[liveShadows as string] ?? SHADOW_REACH_M.preset,
    circuits: circuits.map((circuit) => Object.fromEntries(Object.entries(circuit).filter(([key]) => key !== 'glows'))),
    glows: [...new Set([...circuitOf.keys(), ...shown.keys()])].map((material, i) => ({
      id: `glow-${i + 1}`,
      material,
      objects: null,
      circuitId: circuitOf.get(material) ?? null,
      emission: null,
      shownEv: shown.get(material) ?? 0,
    })),
  };
}

/** Rigs of version 13 had one vantage, without a name. */
const fromThirteen = ({ vantage, ...document }: Document): Document => ({
  ...document,
  vantages: vantage ? [{ id: 'vantage-1', name: 'Vantage 1', ...(vantage as Document) }] : [],
  cues: (document.cues as Document[]).map((cue) => ({ ...cue, vantageId: null })),
});

/** Trims of sky and glow in version 14 were those of their bounce as well. */
const fromFourteen = (document: Document): Document => ({
  ...document,
  cues: (document.cues as { holds: { mix?: Document } }[]).map((cue) => {
    const { mix } = cue.holds;
    if (!mix) return cue;
    const bounced = { ...(mix.sky ? { skyBounce: mix.sky } : {}), ...(mix.glow ? { glowBounce: mix.glow } : {}) };
    return { ...cue, holds: { ...cue.holds, mix: { ...mix, ...bounced } } };
  }),
});

/** Cues of version 15 had neither colour nor note and were all handed off; the day blended over all of the time between them, nothing called them, all objects were seen in all of them, and circuits burned steadily. */
const fromFifteen = (document: Document): Document => ({
  ...document,
  cues: (document.cues as Document[]).map((cue) => ({ ...cue, color: null, note: '', handedOff: true })),
  day: { ...(document.day as Document), smoothness: 1 },
  circuits: (document.circuits as Document[]).map((circuit) => ({ ...circuit, flicker: null })),
  hidden: [],
  startCueId: null,
  calls: [],
});

/**
 * Lamps of version 16 all stood still, those of a circuit went on and out together, and the materials were those of the file. Shipped airs were taken as
 * they ship; a copy of each one that is used is kept since.
 */
function fromSixteen(document: Document): Document {
  const still = (lamps: unknown) => (lamps as Document[]).map((lamp) => ({ ...lamp, motion: null }));
  const upgraded = {
    ...document,
    variant: '',
    lamps: still(document.lamps),
    fixtures: (document.fixtures as Document[]).map((fixture) => ({ ...fixture, lamps: still(fixture.lamps) })),
    circuits: (document.circuits as Document[]).map((circuit) => {
      const rule = circuit.rule as Document;
      return rule.by === 'hours' ? { ...circuit, rule: { ...rule, apartMin: 0 } } : circuit;
    }),
  };
  const airs = structuredClone(document.airs as Rig['airs']);
  pinAirs({ airs, airId: document.airId as string, cues: document.cues as Rig['cues'] });
  return { ...upgraded, airs };
}

/** Light came through no object of version 17 where it was hidden, and no walks were kept. */
const fromSeventeen = (document: Document): Document => ({ ...document, openings: [], strolls: [] });

/**
 * One step per version that was ever stored: `steps[n]` turns a document of version n into one of version n + 1.
 * A stored revision is never rewritten; it is upgraded each time it is read.
 */
const STEPS: Readonly<Record<number, (document: Document) => Document>> = {
  1: fromOne,
  2: fromTwo,
  3: fromThree,
  4: fromFour,
  5: fromFive,
  6: fromSix,
  7: fromSeven,
  8: fromEight,
  9: fromNine,
  10: fromTen,
  11: fromEleven,
  12: fromTwelve,
  13: fromThirteen,
  14: fromFourteen,
  15: fromFifteen,
  16: fromSixteen,
  17: fromSeventeen,
};

/**
 * Reads a rig document of any version up to this one, upgrading it step by step and checking the outcome.
 * Throws a `bad-input` {@link Failure} for what is no rig, for a version from the future, and for invalid values.
 */
export function readRig(document: unknown, steps = STEPS, target: number = RIG_VERSION): Rig {
  if (typeof document !== 'object' || document === null || Array.isArray(document)) {
    throw new Failure('bad-input', 'The rig is not a JSON object.', 'Write one with "basil rig new" to see its form.');
  }
  let current = document as Document;
  const version = current.version;
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1) {
    throw new Failure('bad-input', 'The rig has no version number.', `Rigs of this Basil say "version": ${target}.`);
  }
  if (version > target) {
    throw new Failure(
      'bad-input',
      `The rig is of version ${version}, and this Basil reads up to version ${target}.`,
      'Update Basil, or save the rig from the older one.',
    );
  }
  for (let v = version; v < target; v++) {
    const step = steps[v];
    if (!step) throw new Failure('bad-input', `Rigs of version ${v} can no longer be read.`, 'Write the rig anew.');
    current = { ...step(current), version: v + 1 };
  }
  return checkRig(current);
}
