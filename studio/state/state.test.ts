import { defaultRig, timedCue, type Rig } from '../../core/rig';
import { Failure, luminance } from '../../core/units';
import type { ProjectView } from '../../core/api';
import { createAutosave, type SavePorts } from './autosave';
import { createStudioStore, isFading, lightingNow, shownRig } from './studioStore';
import { Unreachable } from '../api/client';

const view = (rig = defaultRig()): ProjectView => ({ id: 'p', name: 'Test', revision: 1, rig, level: { id: 'l' } as ProjectView['level'] });

/** A store whose clock stands still until it is moved. */
function still(rig?: Rig) {
  const time = { now: 0 };
  return { time, store: createStudioStore(view(rig), () => time.now) };
}

const setSun = (elevationDeg: number) => (rig: Rig) => void (rig.cues[0]!.holds.sun = { elevationDeg });

describe('history', () => {
  it('takes back and brings forward, by name', () => {
    const { store } = still();
    store.getState().edit('Elevation 20', setSun(20));
    store.getState().edit('Renamed', (r) => void (r.cues[0]!.name = 'Morning'));
    expect(store.getState().past.map((e) => e.label)).toEqual(['Elevation 20', 'Renamed']);
    store.getState().undo();
    expect(store.getState().rig.cues[0]!.name).toBe('Noon');
    store.getState().undo();
    expect(store.getState().rig).toEqual(defaultRig());
    store.getState().redo();
    expect(store.getState().rig.cues[0]!.holds.sun?.elevationDeg).toBe(20);
  });

  it('makes one step of a value that is scrubbed, and a new one after a pause', () => {
    const { store, time } = still();
    for (const v of [10, 20, 30]) {
      time.now += 100;
      store.getState().edit(`Elevation ${v}`, setSun(v), 'elevation');
    }
    expect(store.getState().past).toHaveLength(1);
    time.now += 5000;
    store.getState().edit('Elevation 40', setSun(40), 'elevation');
    expect(store.getState().past).toHaveLength(2);
    store.getState().undo();
    expect(store.getState().rig.cues[0]!.holds.sun?.elevationDeg).toBe(30);
    store.getState().undo();
    expect(store.getState().rig).toEqual(defaultRig());
  });

  it('makes one step of a gesture, however long it lasts, and another of the next', () => {
    const { store, time } = still();
    for (const [v, gesture] of [
      [10, 'drag 1'],
      [20, 'drag 1'],
      [30, 'drag 2'],
    ] as const) {
      time.now += 5000;
      store.getState().edit(`Elevation ${v}`, setSun(v), { gesture });
    }
    expect(store.getState().past).toHaveLength(2);
    store.getState().undo();
    expect(store.getState().rig.cues[0]!.holds.sun?.elevationDeg).toBe(20);
  });

  it('refuses an edit that would break the rig, and changes nothing', () => {
    const { store } = still();
    expect(() => store.getState().edit('Too high', setSun(200))).toThrow(Failure);
    expect(store.getState().rig).toEqual(defaultRig());
    expect(store.getState().past).toHaveLength(0);
  });
});

describe('going to a cue', () => {
  it('fades over the fade time, from the light as it stands', () => {
    const { store, time } = still();
    const lux = () =>
      Object.fromEntries(
        lightingNow(store.getState(), time.now).suns.flatMap((s) => (s.stems[0] ? [[s.stems[0].cueId, luminance(s.illuminance)]] : [])),
      );
    const { noon } = lux();
    store.getState().go('late');
    expect(lux()).toEqual({ noon });
    time.now = 500;
    const half = lux();
    expect(half.noon).toBeCloseTo(noon! / 2, 3);
    expect(isFading(store.getState(), time.now)).toBe(true);
    time.now = 1001;
    expect(Object.keys(lux())).toEqual(['late']);
    expect(lux().late).toBeCloseTo(half.late! * 2, 3);
    expect(isFading(store.getState(), time.now)).toBe(false);
  });

  it('stands the day at an hour off any cue, and comes back to a cue by going', () => {
    const { store } = still();
    store.getState().scrub(25);
    expect(store.getState().hour).toBe(1);
    store.getState().play(true);
    store.getState().go('noon', 0);
    expect(store.getState()).toMatchObject({ hour: null, playing: false, cueId: 'noon' });
  });

  it('lets days go by past midnight, and is back on the first day at a cue', () => {
    const { store } = still();
    store.getState().play(true);
    store.getState().pass(36);
    expect(store.getState()).toMatchObject({ hour: 0.5, days: 2 });
    expect(shownRig(store.getState()).place.date).toBe('2026-06-14');
    expect(shownRig(store.getState())).toBe(shownRig(store.getState()));
    expect(store.getState().rig.place.date).toBe('2026-06-12');
    store.getState().scrub(6);
    expect(store.getState()).toMatchObject({ hour: 6, days: 2 });
    store.getState().go('noon', 0);
    expect(store.getState().days).toBe(0);
  });

  it('cuts where it is asked to', () => {
    const { store } = still();
    store.getState().go('late', 0);
    expect(store.getState().fade).toBeNull();
    expect(store.getState().cueId).toBe('late');
  });
});

/** A server of one rig, with faults on demand. */
class FakeServer implements SavePorts {
  revision = 1;
  rig = defaultRig();
  down = false;
  saves = 0;
  readonly drawer = new Map<string, unknown>();
  /** The browser's storage is full or denied. */
  full = false;
  readonly revisions = new Map<number, Rig>([[1, this.rig]]);
  private timers: (() => void)[] = [];
  readonly storage = {
    get: async (k: string) => {
      if (this.full) throw new DOMException('denied', 'SecurityError');
      return structuredClone(this.drawer.get(k));
    },
    set: async (k: string, v: unknown) => {
      if (this.full) throw new DOMException('full', 'QuotaExceededError');
      this.drawer.set(k, structuredClone(v));
    },
    del: async (k: string) => {
      if (this.full) throw new DOMException('denied', 'SecurityError');
      this.drawer.delete(k);
    },
  };

  async storedAs(revision: number) {
    const rig = this.revisions.get(revision);
    if (!rig) throw new Failure('not-found', 'no such revision');
    return rig;
  }

  async save(base: number, rig: Rig) {
    this.saves++;
    if (this.down) throw new Unreachable(null);
    if (base !== this.revision) throw new Failure('conflict', 'changed elsewhere');
    this.rig = rig;
    this.revisions.set(++this.revision, rig);
    return { revision: this.revision };
  }
  async latest() {
    return { revision: this.revision, rig: this.rig };
  }
  later(work: () => void) {
    this.timers.push(work);
    return () => void (this.timers = this.timers.filter((t) => t !== work));
  }
  /** Lets all timers fire, and what they start. */
  async pass() {
    for (let round = 0; round < 6; round++) {
      for (const timer of this.timers.splice(0)) timer();
      await new Promise((done) => setImmediate(done));
      if (this.down) return;
    }
  }
}

function openTab(server: FakeServer) {
  const store = createStudioStore({ ...view(server.rig), revision: server.revision }, () => 0);
  const autosave = createAutosave(store, server.revision, server);
  const stop = autosave.start();
  return { store, autosave, stop };
}

/** A server that was down while a tab with an edit was closed. */
async function withUnsaved(): Promise<FakeServer> {
  const server = new FakeServer();
  const before = openTab(server);
  server.down = true;
  before.store.getState().edit('Elevation', setSun(33));
  await server.pass();
  before.stop();
  return server;
}

describe('autosave', () => {
  it('says "saved" only of what the server has', async () => {
    const server = new FakeServer();
    const { store } = openTab(server);
    store.getState().edit('Elevation', setSun(33));
    expect(store.getState().saving.kind).toBe('unsaved');
    await server.pass();
    expect(store.getState().saving.kind).toBe('saved');
    expect(server.rig.cues[0]!.holds.sun?.elevationDeg).toBe(33);
    expect(server.drawer.size).toBe(0);
  });

  it('has nothing to save of a step that is taken back before it was stored', async () => {
    const server = new FakeServer();
    const { store } = openTab(server);
    store.getState().edit('Elevation', setSun(33));
    store.getState().undo();
    expect(store.getState().saving.kind).toBe('saved');
    await server.pass();
    expect([server.saves, server.drawer.size]).toEqual([0, 0]);
    store.getState().redo();
    await server.pass();
    store.getState().undo();
    await server.pass();
    store.getState().redo();
    expect(store.getState().saving.kind).toBe('unsaved');
    await server.pass();
    expect([store.getState().saving.kind, server.rig.cues[0]!.holds.sun?.elevationDeg, server.saves]).toEqual(['saved', 33, 3]);
  });

  it('keeps changes through a lost connection and sends them when it is back', async () => {
    const server = new FakeServer();
    const { store } = openTab(server);
    server.down = true;
    store.getState().edit('Elevation', setSun(33));
    await server.pass();
    expect(store.getState().saving.kind).toBe('unreachable');
    server.down = false;
    await server.pass();
    expect(store.getState().saving.kind).toBe('saved');
    expect(server.rig.cues[0]!.holds.sun?.elevationDeg).toBe(33);
  });

  it('brings back after a crash what was not stored', async () => {
    const server = await withUnsaved();
    server.down = false;
    const after = openTab(server);
    await server.pass();
    expect(after.store.getState().rig.cues[0]!.holds.sun?.elevationDeg).toBe(33);
    expect(server.drawer.size).toBe(0);
    expect(server.rig.cues[0]!.holds.sun?.elevationDeg).toBe(33);
  });

  it('brings it back over what another tab has stored since, and keeps it until it is stored', async () => {
    const server = await withUnsaved();
    server.rig = { ...server.rig, cues: server.rig.cues.map((c, i) => (i === 1 ? { ...c, hour: 19 } : c)) };
    server.revisions.set(++server.revision, server.rig);
    const after = openTab(server);
    await server.pass();
    await server.pass();
    expect(after.store.getState().saving.kind).toBe('unreachable');
    expect(after.store.getState().rig.cues.map((c) => [c.holds.sun?.elevationDeg ?? 0, c.hour])).toEqual([
      [33, 12.5],
      [0, 19],
    ]);
    expect([...server.drawer.keys()]).toEqual(['basil.unsaved.p.base', 'basil.unsaved.p']);
    server.down = false;
    await server.pass();
    expect(server.rig.cues[0]!.holds.sun?.elevationDeg).toBe(33);
    expect(server.drawer.size).toBe(0);
  });

  it('keeps what differs, and the revision that it differs from once', async () => {
    const server = new FakeServer();
    const { store } = openTab(server);
    server.down = true;
    const written: string[] = [];
    const { set } = server.storage;
    server.storage.set = (key, value) => {
      written.push(key);
      return set(key, value);
    };
    for (const elevation of [33, 34, 35]) {
      store.getState().edit('Elevation', setSun(elevation));
      await server.pass();
    }
    expect(written.filter((key) => key.endsWith('.base'))).toHaveLength(1);
    expect(written.length).toBeGreaterThan(3);
    expect(JSON.stringify(server.drawer.get('basil.unsaved.p')).length).toBeLessThan(300);
  });

  it('brings it back though the server has the revision no more', async () => {
    const server = await withUnsaved();
    server.rig = { ...server.rig, airId: 'humid' };
    server.revisions.clear();
    server.revisions.set(++server.revision, server.rig);
    server.down = false;
    openTab(server);
    await server.pass();
    await server.pass();
    expect([server.rig.airId, server.rig.cues[0]!.holds.sun?.elevationDeg]).toEqual(['humid', 33]);
  });

  it('saves all the same where the browser keeps nothing, and says that it does not', async () => {
    const server = new FakeServer();
    server.full = true;
    const { store } = openTab(server);
    store.getState().edit('Elevation', setSun(33));
    await server.pass();
    expect(store.getState()).toMatchObject({ isKept: false, saving: { kind: 'saved' } });
    expect(server.rig.cues[0]!.holds.sun?.elevationDeg).toBe(33);
    server.full = false;
    store.getState().edit('Elevation', setSun(34));
    await server.pass();
    expect(store.getState().isKept).toBe(true);
  });

  it('throws nothing away that cannot be read', async () => {
    const server = new FakeServer();
    server.drawer.set('basil.unsaved.p', { base: 77, patches: [{ op: 'replace', path: ['airId'], value: 'humid' }] });
    const { store } = openTab(server);
    await server.pass();
    expect(store.getState().rig).toEqual(defaultRig());
    expect([...server.drawer.keys()]).toContain('basil.unsaved.p.unread');
  });

  it('merges what two tabs change in different places', async () => {
    const server = new FakeServer();
    const one = openTab(server);
    server.rig = { ...server.rig, cues: server.rig.cues.map((c, i) => (i === 1 ? { ...c, hour: 19 } : c)) };
    server.revision = 2;
    one.store.getState().edit('Elevation', setSun(33));
    await server.pass();
    expect(one.store.getState().saving.kind).toBe('saved');
    expect(server.rig.cues.map((c) => [c.holds.sun?.elevationDeg ?? 0, c.hour])).toEqual([
      [33, 12.5],
      [0, 19],
    ]);
  });

  it('takes a step back after a merge, and leaves what the other tab did', async () => {
    const server = new FakeServer();
    const { store } = openTab(server);
    server.rig = { ...server.rig, cues: server.rig.cues.map((c, i) => (i === 1 ? { ...c, hour: 19 } : c)) };
    server.revisions.set(++server.revision, server.rig);
    store.getState().edit('Elevation', setSun(33));
    await server.pass();
    expect(store.getState().past.map((e) => e.label)).toEqual(['Elevation']);
    store.getState().undo();
    expect(store.getState().rig.cues.map((c) => [c.holds.sun, c.hour])).toEqual([
      [undefined, 12.5],
      [undefined, 19],
    ]);
    store.getState().redo();
    expect(store.getState().rig.cues[0]!.holds.sun?.elevationDeg).toBe(33);
    await server.pass();
    expect(store.getState().saving.kind).toBe('saved');
  });

  it('merges two new cues of one name to a valid rig, and saves it', async () => {
    const server = new FakeServer();
    const { store } = openTab(server);
    server.rig = { ...server.rig, cues: [...server.rig.cues, timedCue('rain-1', 'Rain', 9, 12)] };
    server.revisions.set(++server.revision, server.rig);
    store.getState().edit('New cue', (r) => void r.cues.push(timedCue('rain-2', 'Rain', 10, 12)));
    await server.pass();
    expect(store.getState().saving.kind).toBe('saved');
    expect(server.rig.cues.map((c) => c.name).sort()).toEqual(['Late sun', 'Noon', 'Rain', 'Rain 2']);
  });

  it('goes on showing a clash while more is changed, and sends that with the choice', async () => {
    const server = new FakeServer();
    const { store, autosave } = openTab(server);
    server.rig = { ...server.rig, cues: server.rig.cues.map((c, i) => (i === 0 ? { ...c, holds: { sun: { elevationDeg: 5 } } } : c)) };
    server.revisions.set(++server.revision, server.rig);
    store.getState().edit('Elevation', setSun(33));
    await server.pass();
    store.getState().edit('Hour', (r) => void (r.cues[1]!.hour = 20));
    await server.pass();
    expect(store.getState().saving.kind).toBe('clash');
    await autosave.settle('mine');
    await server.pass();
    expect(store.getState().saving.kind).toBe('saved');
    expect(server.rig.cues.map((c) => [c.holds.sun?.elevationDeg ?? null, c.hour])).toEqual([
      [33, 12.5],
      [null, 20],
    ]);
  });

  it('shows a clash, loses neither side, and goes on by the choice', async () => {
    const server = new FakeServer();
    const { store, autosave } = openTab(server);
    const stored: Rig[] = [];
    const save = server.save.bind(server);
    server.save = async (base, rig) => {
      const done = await save(base, rig);
      stored.push(rig);
      return done;
    };
    server.rig = { ...server.rig, cues: server.rig.cues.map((c, i) => (i === 0 ? { ...c, holds: { sun: { elevationDeg: 5 } } } : c)) };
    server.revision = 2;
    store.getState().edit('Elevation', setSun(33));
    await server.pass();
    expect(store.getState().saving).toMatchObject({ kind: 'clash', places: ['cues.noon.holds.sun.elevationDeg'] });
    await autosave.settle('theirs');
    await server.pass();
    expect(stored.map((r) => r.cues[0]!.holds.sun?.elevationDeg)).toEqual([33, 5]);
    expect(store.getState().saving.kind).toBe('saved');
    expect(store.getState().rig.cues[0]!.holds.sun?.elevationDeg).toBe(5);
  });

  it('takes over what another tab saved, when nothing of its own is open', async () => {
    const server = new FakeServer();
    const { store, autosave } = openTab(server);
    server.rig = { ...server.rig, cues: server.rig.cues.map((c) => ({ ...c, fadeS: 9 })) };
    server.revision = 2;
    await autosave.refresh();
    expect(store.getState().rig.cues[0]!.fadeS).toBe(9);
    expect(store.getState().saving.kind).toBe('saved');
  });
});
