import {
  DEFAULT_BANDS,
  addCall,
  addPathPoint,
  addVantage,
  changeGlow,
  changeLamps,
  checkRig,
  copyHeld,
  defaultRig,
  defaultWhen,
  forgetGrade,
  forgetWeather,
  heldLeaves,
  heldPaths,
  holdBody,
  holderPath,
  keepGrade,
  keepWeather,
  lampsOf,
  leafAt,
  liftByExposure,
  makeFixture,
  moveCue,
  moveStanding,
  moveToCircuit,
  moveVantage,
  placeFixture,
  placeLevelAs,
  releaseBody,
  releaseGrade,
  releaseLook,
  releasePart,
  removeCall,
  removeCircuit,
  removeCue,
  removeGlow,
  removeMaterialRule,
  removeRole,
  removeStanding,
  removeVantage,
  removeVolume,
  setBounceLevel,
  setCall,
  setDensities,
  setGlow,
  setGrade,
  setHeld,
  setLeaf,
  setLook,
  setMaterialRule,
  setMotion,
  setObjectRoles,
  setPart,
  setStartCue,
  setTrim,
  setOpenings,
  setVolumeLevel,
  setWeatherTurn,
  showInstead,
  showObjects,
  showVariant,
  takeGrade,
  timedCue,
  unlink,
  type Rig,
} from '../../core/rig';
import { SHIPPED_GRADES } from '../../core/grade';
import { Failure, freeName } from '../../core/units';
import { lampWith } from '../../tests/lib/lamps';
import type { ProjectView } from '../../core/api';
import { createStudioStore } from './studioStore';

/** A fixed stream of numbers 0..1 (a linear congruential generator, Numerical Recipes). */
function stream(seed: number): () => number {
  let s = seed >>> 0;
  return () => (s = (Math.imul(s, 1664525) + 1013904223) >>> 0) / 2 ** 32;
}

/** A rig with something of each kind, so that every edit has something to work on. */
function start(): Rig {
  const rig = defaultRig();
  rig.cues.push(timedCue('dusk', 'Dusk', 20, 5), { ...timedCue('storm', 'Storm', 12, 9), kind: 'free' });
  rig.cues[0]!.holds = { ...rig.cues[0]!.holds, sky: structuredClone(DEFAULT_BANDS), sun: { elevationDeg: 40 }, fog: { visibilityM: 400 } };
  rig.circuits = ['a', 'b', 'c'].map((id) => ({ id, name: `Circuit ${id}`, rule: { by: 'on' }, bounce: 1, flicker: null }));
  rig.lamps = ['a', 'b', null].map((circuitId, i) => lampWith({ id: `l${i}`, name: `Lamp ${i}`, circuitId }));
  setMotion(rig.lamps[1]!, { as: 'path', phase: 0, through: [[1, 0, 0]], ends: 'back', speedMps: 1 });
  rig.volumes = [
    { id: 'steam', name: 'Steam', shape: { kind: 'ball', radiusM: 2 }, at: [0, 1, 0], visibilityM: 6, softness: 0.8, color: '#ffffff' },
  ];
  rig.vantages = [{ id: 'gate', name: 'Gate', eye: [1, 2, 3], target: [0, 1, 0], fovDeg: 50 }];
  return checkRig(rig);
}

type Next = () => number;
type Edit = (rig: Rig, next: Next) => void;

const pick = <T>(list: readonly T[], next: Next): T => {
  if (list.length === 0) throw new RangeError('There is nothing to change.');
  return list[Math.floor(next() * list.length)]!;
};
const cueId = (rig: Rig, next: Next) => pick(rig.cues, next).id;
const circuitId = (rig: Rig, next: Next) => pick(rig.circuits, next).id;
const holder = (rig: Rig, next: Next) => (next() < 0.3 ? 'day' : { cueId: cueId(rig, next) });
const round = (v: number) => Number(v.toFixed(3));
const lampIds = (rig: Rig, next: Next) => new Set(rig.lamps.filter(() => next() < 0.6).map((l) => l.id));
const someCues = (rig: Rig, next: Next) => rig.cues.filter(() => next() < 0.5).map((c) => c.id);

/** Every change of a rig that a desk makes by a function of core/rig/edits. */
const EDITS: Record<string, Edit> = {
  moveCue: (r, n) => moveCue(r, cueId(r, n), Math.floor(n() * 5)),
  removeCue: (r, n) => removeCue(r, cueId(r, n)),
  setStartCue: (r, n) => setStartCue(r, n() < 0.3 ? null : cueId(r, n)),
  addCue: (r, n) => void r.cues.push({ ...timedCue('', '', round(n() * 23), 8), ...freeName(r.cues, 'New') }),
  setHeld: (r, n) => setHeld(r, someCues(r, n), { part: 'shadeEv' }, n() < 0.3 ? undefined : round(n() * 2)),
  copyHeld(r, n) {
    const from = pick(r.cues, n);
    copyHeld(r, from.id, someCues(r, n), pick(heldPaths(from), n));
  },
  setLeaf(r, n) {
    const cue = pick(r.cues, n);
    const path = pick(heldLeaves([cue]), n);
    const value = leafAt(cue, path);
    if (typeof value === 'number') setLeaf(r, [cue.id, ...someCues(r, n)], path, round(value * (0.8 + 0.4 * n())));
  },
  letGo(r, n) {
    const cue = pick(r.cues, n);
    setHeld(r, [cue.id, ...someCues(r, n)], holderPath(pick(heldLeaves([cue]), n)), undefined);
  },
  addCall: (r, n) => void addCall(r, defaultWhen(pick(['event', 'day', 'place'] as const, n)), cueId(r, n)),
  setCall: (r, n) =>
    setCall(r, pick(r.calls, n).id, {
      priority: Math.floor(n() * 50),
      circuits: { [circuitId(r, n)]: { on: n() < 0.5, level: 1, tint: '#ffffff' } },
    }),
  removeCall: (r, n) => removeCall(r, pick(r.calls, n).id),
  holdBody: (r, n) => holdBody(r, cueId(r, n), pick(['sun', 'moon'] as const, n), { elevationDeg: round(n() * 60) }),
  releaseBody: (r, n) => releaseBody(r, cueId(r, n), 'sun'),
  setLook: (r, n) => setLook(r, cueId(r, n), 'moon', { halo: round(n()) }),
  releaseLook: (r, n) =>
    releaseLook(
      r,
      pick(
        r.cues.filter((c) => c.holds.moonLook),
        n,
      ).id,
      'moon',
    ),
  setPart: (r, n) => setPart(r, holder(r, n), 'fog', { visibilityM: round(50 + n() * 1000) }),
  releasePart: (r, n) => releasePart(r, cueId(r, n), 'fog'),
  setGrade: (r, n) => setGrade(r, holder(r, n), 'nightVision', round(n())),
  takeGrade: (r, n) => takeGrade(r, holder(r, n), pick(SHIPPED_GRADES, n).grade),
  releaseGrade: (r, n) => releaseGrade(r, cueId(r, n)),
  keepGrade: (r, n) => {
    const { id, name } = freeName(r.grades, 'Kept');
    keepGrade(r, id, name, pick(SHIPPED_GRADES, n).grade);
  },
  forgetGrade: (r, n) => forgetGrade(r, pick(r.grades, n).id),
  liftByExposure: (r, n) => liftByExposure(r, cueId(r, n), round(n())),
  setVolumeLevel: (r, n) => setVolumeLevel(r, cueId(r, n), pick(r.volumes, n).id, round(n() * 2)),
  removeVolume: (r, n) => removeVolume(r, pick(r.volumes, n).id),
  keepWeather: (r) => {
    const { id, name } = freeName(r.weathers, 'Kept');
    keepWeather(r, id, name, JSON.parse(JSON.stringify(r.weather)) as Rig['weather']);
  },
  forgetWeather: (r, n) => forgetWeather(r, pick(r.weathers, n).id),
  setWeatherTurn: (r, n) =>
    setWeatherTurn(
      r,
      cueId(r, n),
      n() < 0.3 ? null : { to: { rateMmH: round(n() * 9) }, beginMin: 5, overMin: 5, staysMin: 30, backMin: 10 },
    ),
  setMaterialRule: (r, n) =>
    setMaterialRule(r, { id: pick(['m1', 'm2'], n), pattern: '*stone*', wet: round(n()), puddles: 1, snow: 1, dust: 1 }),
  removeMaterialRule: (r, n) => removeMaterialRule(r, pick(r.materials, n).id),
  setTrim: (r, n) => setTrim(pick(r.cues, n).holds, pick(['sun', 'sky'] as const, n), { level: round(n() * 3), tint: '#ffffff' }),
  setBounceLevel: (r, n) => setBounceLevel(pick(r.cues, n).holds, round(0.2 + n() * 3)),
  setGlow: (r, n) => setGlow(r, pick(['Glass', 'Neon'], n), n() < 0.5 ? null : ['Sign'], { circuitId: circuitId(r, n) }),
  changeGlow: (r, n) => changeGlow(r, pick(r.glows, n).id, { shownEv: round(n() * 3) }),
  removeGlow: (r, n) => removeGlow(r, pick(r.glows, n).id),
  setObjectRoles: (r, n) => setObjectRoles(r, [pick(['Roof', 'Door'], n)], n() < 0.4 ? null : 'opening'),
  showVariant: (r, n) => showVariant(r, holder(r, n), pick(['Snow', '', null], n)),
  showInstead: (r, n) => showInstead(r, cueId(r, n), 'Bulb', pick(['Bulb lit', 'Bulb', null], n)),
  showObjects: (r, n) => showObjects(r, holder(r, n), [pick(['Roof', 'Door'], n)], pick([true, false, null], n)),
  setOpenings: (r, n) => setOpenings(r, [pick(['Roof', 'Door'], n)], n() < 0.6),
  removeRole: (r, n) => removeRole(r, pick(r.roles, n).id),
  setDensities: (r, n) => setDensities(r, [pick(['Roof', 'Door'], n)], n() < 0.4 ? null : round(0.25 + n())),
  placeLevelAs: (r, n) => placeLevelAs(r, { metresPerUnit: pick([1, 0.01], n), up: pick(['y', 'z'] as const, n) }),
  addVantage: (r, n) => void addVantage(r, { eye: [round(n()), 2, 3], target: [0, 1, 0], fovDeg: 50 }),
  moveVantage: (r, n) => moveVantage(r, pick(r.vantages, n).id, { eye: [round(n()), 2, 3], target: [0, 1, 0], fovDeg: 60 }),
  removeVantage: (r, n) => removeVantage(r, pick(r.vantages, n).id),
  changeLamps: (r, n) => changeLamps(r, lampIds(r, n), (lamp) => void (lamp.reachM = round(5 + n()))),
  setMotion: (r, n) =>
    setMotion(pick(r.lamps, n), pick([null, { as: 'path', phase: 0, through: [[1, 0, 0]], ends: 'back', speedMps: 1 }], n)),
  addPathPoint: (r, n) => addPathPoint(r, lampIds(r, n), [round(n() * 9), 1, 0]),
  moveStanding: (r, n) => moveStanding(r, lampsOf(r), [round(n()), 0, 0]),
  moveToCircuit: (r, n) => moveToCircuit(r, lampIds(r, n), circuitId(r, n)),
  makeFixture: (r, n) => {
    const ids = lampIds(r, n);
    if (ids.size > 0) makeFixture(r, ids, freeName(r.fixtures, 'Post').name);
  },
  placeFixture: (r, n) => void placeFixture(r, pick(r.fixtures, n).id, [round(n() * 9), 0, 0], 30, null),
  unlink: (r, n) => void unlink(r, new Set([pick(r.placed, n).id])),
  removeStanding: (r, n) => removeStanding(r, [pick(lampsOf(r), n)]),
  removeCircuit: (r, n) => removeCircuit(r, circuitId(r, n)),
};

const STEPS = 60;

describe('edits of a rig', () => {
  it('undone and redone in any order, come back to equal documents', () => {
    const made = new Set<string>();
    for (let seed = 1; seed <= 25; seed++) {
      const next = stream(seed);
      const store = createStudioStore({ id: 'p', name: 'Test', revision: 1, rig: start(), level: { id: 'l' } as ProjectView['level'] });
      const { edit, undo, redo } = store.getState();
      const [names, rigs] = [Object.keys(EDITS), [store.getState().rig]];
      for (let i = 0; i < STEPS; i++) {
        const name = pick(names, next);
        const before = store.getState().rig;
        try {
          edit(name, (r) => EDITS[name]!(r as Rig, next));
        } catch (error) {
          // Refused: then nothing has changed.
          if (!(error instanceof Failure) && !(error instanceof RangeError)) throw new Error(`${name}, seed ${seed}`, { cause: error });
          expect(store.getState().rig).toBe(before);
          continue;
        }
        if (store.getState().rig !== before) {
          made.add(name);
          rigs.push(store.getState().rig);
        }
        // A walk back and forth, by any number of steps, comes to where it was.
        const steps = Math.floor(next() * 5);
        const at = rigs.length - 1;
        for (let k = 1; k <= Math.min(steps, at); k++) {
          undo();
          expect(store.getState().rig).toEqual(rigs[at - k]);
        }
        for (let k = Math.min(steps, at); k > 0; k--) redo();
        expect(store.getState().rig).toEqual(rigs[at]);
      }
      const end = store.getState().rig;
      for (let k = rigs.length - 1; k > 0; k--) undo();
      expect(store.getState().rig).toEqual(rigs[0]);
      for (let k = 1; k < rigs.length; k++) redo();
      expect(store.getState().rig).toEqual(end);
      checkRig(end);
    }
    // Each has been tried for real.
    expect(Object.keys(EDITS).filter((name) => !made.has(name))).toEqual([]);
  });
});
