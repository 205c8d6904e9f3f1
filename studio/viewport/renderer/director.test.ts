import { jest } from '@jest/globals';
import type { Draft } from 'immer';
import { addVantage, defaultRig, type Lighting, type Rig, type Vantage } from '../../../core/rig';
import type { ProjectView } from '../../../core/api';
import { createStudioStore, lightingNow } from '../../state/studioStore';
import { Director } from './director';
import { useListening } from '../mix/listening';
import { useMeter } from '../meter/meterStore';
import { useScopes } from '../meter/scopesStore';
import { useView } from '../viewStore';
import type { Stage } from './stage';

const FRAME_MS = 16;
/** Long enough for a picture to settle, and for the small ones of all cues. */
const LONG_MS = 5000;

const browser = globalThis as unknown as Record<string, unknown>;

beforeEach(() => {
  jest.useFakeTimers();
  browser.requestAnimationFrame = (work: (now: number) => void) => setTimeout(() => work(performance.now()), FRAME_MS);
  browser.cancelAnimationFrame = (id: ReturnType<typeof setTimeout>) => clearTimeout(id);
  browser.ImageData = class {};
  browser.OffscreenCanvas = class {
    getContext = () => ({ putImageData: () => undefined });
    convertToBlob = () => Promise.resolve(new Blob([]));
  };
});
afterEach(() => {
  jest.useRealTimers();
  for (const name of ['requestAnimationFrame', 'cancelAnimationFrame', 'ImageData', 'OffscreenCanvas']) delete browser[name];
});

/** A director over a stage that only remembers what it was told to draw. */
function directed(rig = defaultRig()) {
  const level = { id: 'l', summary: { lightmaps: { maps: [] } } } as unknown as ProjectView['level'];
  const store = createStudioStore({ id: 'p', name: 'Test', revision: 1, rig, level }, () => performance.now());
  const drawn: { lighting: Lighting; moving: boolean }[] = [];
  const pictured: Lighting[] = [];
  const told: boolean[] = [];
  const read: number[] = [];
  const scoped: number[] = [];
  const stage = {
    hasLevel: true,
    controls: {
      walking: false,
      view: { eye: [0, 2, 9], target: [0, 1, 0], fovDeg: 60 } as Vantage,
      vantage() {
        return this.view;
      },
      stand({ eye, target, fovDeg }: Vantage) {
        this.view = { eye, target, fovDeg };
        director.moved();
      },
    },
    lit: { standModels: () => undefined, putBall: () => undefined },
    showPlan: () => undefined,
    draw: (lighting: Lighting, moving: boolean) => (drawn.push({ lighting, moving }), 12.5),
    read: (_: Lighting, x: number) => (read.push(x), { lux: x, luminance: x / 2 }),
    shadowCost: () => [{ ms: 1 }],
    pictureCost: () => null,
    setRoles: () => undefined,
    drawnSize: () => [640, 400],
    fence: () => () => true,
    scopes: () => (scoped.push(1), null),
    wholeView: () => ({ eye: [0, 2, 9], target: [0, 1, 0], fovDeg: 60 }),
    picture: (lighting: Lighting) => (pictured.push(lighting), new Uint8ClampedArray(4)),
  };
  const director = new Director(stage as unknown as Stage, store, (yes) => told.push(yes));
  return { store, director, drawn, pictured, told, read, scoped, stage, cues: rig.cues.length };
}

describe('where it is looked from', () => {
  it('is the vantage of the cue that is gone to, where it names one, and the view says so until it moves', () => {
    const rig = defaultRig();
    const far: Vantage = { eye: [4, 5, 6], target: [1, 2, 3], fovDeg: 40 };
    rig.cues[1]!.vantageId = addVantage(rig, far);
    const { store, stage, director } = directed(rig);
    store.getState().go('noon');
    expect([stage.controls.view.eye, useView.getState().standsAt]).toEqual([[0, 2, 9], null]);
    store.getState().go('late');
    expect([stage.controls.view, useView.getState().standsAt]).toEqual([far, 'vantage-1']);
    store.getState().go('noon');
    expect(stage.controls.view).toEqual(far);
    stage.controls.view = { ...far, eye: [4, 5, 6.5] };
    director.moved();
    expect(useView.getState().standsAt).toBeNull();
  });
});

describe('what is drawn, and when', () => {
  it('is one picture however much changes within a frame, in full, and then those of the cues, one by one', () => {
    const { director, drawn, pictured, told, store, cues } = directed();
    director.renew();
    store.getState().edit('one', (r) => void (r.cues[0]!.holds.sun = { elevationDeg: 20 }));
    store.getState().edit('two', (r) => void (r.cues[0]!.holds.sun = { elevationDeg: 30 }));
    expect(drawn).toHaveLength(0);
    jest.advanceTimersByTime(FRAME_MS);
    expect(drawn).toHaveLength(1);
    expect(drawn[0]!.moving).toBe(false);
    expect(drawn[0]!.lighting.suns[0]!.elevationDeg).toBeCloseTo(30, 6);
    expect(told.at(-1)).toBe(false);
    jest.advanceTimersByTime(LONG_MS);
    expect(drawn).toHaveLength(1);
    expect(pictured).toHaveLength(cues);
    expect(told.at(-1)).toBe(true);
    expect(useMeter.getState()).toMatchObject({ ev100: 12.5, shadowCost: [{ ms: 1 }] });
    director.stop();
  });

  it('is the picture of each cue again where the weather, the water or the night of the day is another', () => {
    const { director, pictured, store, cues } = directed();
    director.renew();
    jest.advanceTimersByTime(LONG_MS);
    const changes: ((rig: Draft<Rig>) => void)[] = [
      (r) => void (r.weather.wet = 1),
      (r) => void (r.water.levelM = 1),
      (r) => void (r.night.skyEv = 1),
      (r) => void r.materials.push({ id: 'a', pattern: '*', wet: 0, puddles: 0, snow: 0, dust: 0 }),
    ];
    for (const [i, change] of changes.entries()) {
      store.getState().edit(`change ${i}`, change);
      jest.advanceTimersByTime(LONG_MS);
      expect(pictured).toHaveLength(cues * (i + 2));
    }
    director.stop();
  });

  it('measures the picture while scopes are open: at rest, and now and then while it moves', () => {
    const { director, scoped } = directed();
    director.renew();
    jest.advanceTimersByTime(LONG_MS);
    expect(scoped).toHaveLength(0);
    useScopes.setState({ open: true });
    jest.advanceTimersByTime(LONG_MS);
    expect(scoped).toHaveLength(1);
    for (let i = 0; i < 20; i++) {
      director.moved();
      jest.advanceTimersByTime(FRAME_MS);
    }
    expect(scoped.length).toBeLessThan(5);
    const moved = scoped.length;
    jest.advanceTimersByTime(LONG_MS);
    expect(scoped).toHaveLength(moved + 1);
    useScopes.setState({ open: false, scopes: null });
    director.stop();
  });

  it('is nothing while nothing changes', () => {
    const { director, drawn, pictured } = directed();
    director.renew();
    jest.advanceTimersByTime(LONG_MS);
    const [pictures, small] = [drawn.length, pictured.length];
    jest.advanceTimersByTime(60 * LONG_MS);
    expect([drawn.length, pictured.length]).toEqual([pictures, small]);
    director.stop();
  });

  it('is of the cues only the picture of the one that changed, and all of them when a lamp or the level did', () => {
    const { director, pictured, store, cues } = directed();
    director.renew();
    jest.advanceTimersByTime(LONG_MS);
    pictured.length = 0;
    store.getState().edit('sun', (r) => void (r.cues[1]!.holds.sun = { elevationDeg: 50 }));
    jest.advanceTimersByTime(LONG_MS);
    expect(pictured).toHaveLength(1);
    expect(pictured[0]!.suns[0]!.elevationDeg).toBeCloseTo(50, 6);
    store.getState().edit('name', (r) => void (r.cues[1]!.name = 'Other'));
    jest.advanceTimersByTime(LONG_MS);
    expect(pictured).toHaveLength(1);
    store.getState().edit('circuit', (r) => void r.circuits.push({ id: 'c', name: 'C', rule: { by: 'on' }, bounce: 1, flicker: null }));
    jest.advanceTimersByTime(LONG_MS);
    expect(pictured).toHaveLength(1 + cues);
    director.renew();
    jest.advanceTimersByTime(LONG_MS);
    expect(pictured).toHaveLength(1 + 2 * cues);
    director.stop();
  });

  it('waits with the small pictures while there is work, and begins anew', () => {
    const { director, pictured, store } = directed();
    director.renew();
    for (let elevation = 10; elevation < 40; elevation++) {
      store.getState().edit('sun', (r) => void (r.cues[0]!.holds.sun = { elevationDeg: elevation }), 'sun');
      jest.advanceTimersByTime(200);
    }
    expect(pictured).toHaveLength(0);
    jest.advanceTimersByTime(LONG_MS);
    expect(pictured.length).toBeGreaterThan(0);
    director.stop();
  });

  it('waits with the small pictures for baked light that is on its way', () => {
    const { director, drawn, pictured, told, cues } = directed();
    director.renew();
    const isThere = director.awaitLight();
    jest.advanceTimersByTime(LONG_MS);
    expect([drawn.length, pictured.length, told.includes(true)]).toEqual([1, 0, false]);
    isThere();
    director.renew();
    jest.advanceTimersByTime(LONG_MS);
    expect([drawn.length, pictured.length, told.at(-1)]).toEqual([2, cues, true]);
    director.stop();
  });

  it('is quick while the view moves, and once more in full after', () => {
    const { director, drawn } = directed();
    director.renew();
    jest.advanceTimersByTime(LONG_MS);
    drawn.length = 0;
    for (let k = 0; k < 5; k++) {
      director.moved();
      jest.advanceTimersByTime(FRAME_MS);
    }
    expect(drawn.map((d) => d.moving)).toEqual([true, true, true, true, true]);
    jest.advanceTimersByTime(LONG_MS);
    expect(drawn).toHaveLength(6);
    expect(drawn.at(-1)!.moving).toBe(false);
    director.stop();
  });

  it('is every frame of a fade, from the light there was to that of the cue, and then at rest', () => {
    const { director, drawn, store } = directed();
    director.renew();
    jest.advanceTimersByTime(LONG_MS);
    drawn.length = 0;
    const from = lightingNow(store.getState(), performance.now());
    const cueId = store.getState().rig.cues[1]!.id;
    store.setState({ cueId, fade: { from, startedAt: performance.now(), seconds: 1 } });
    jest.advanceTimersByTime(990);
    const frames = drawn.length;
    expect(frames).toBeGreaterThan(50);
    expect(drawn.every((d) => d.moving)).toBe(true);
    jest.advanceTimersByTime(LONG_MS);
    expect(store.getState().fade).toBeNull();
    expect(drawn.at(-1)!.moving).toBe(false);
    expect(drawn.length).toBeLessThan(frames + 5);
    const end = lightingNow(store.getState(), performance.now());
    expect(drawn.at(-1)!.lighting.suns.map((s) => s.illuminance)).toEqual(end.suns.map((s) => s.illuminance));
    director.stop();
  });

  it('goes on with a day that runs, by the time that has passed, and stops with it', () => {
    const { director, drawn, store } = directed();
    director.renew();
    jest.advanceTimersByTime(LONG_MS);
    store.setState({ hour: 6, playing: true });
    jest.advanceTimersByTime(600);
    const { hour, pace, rig } = store.getState();
    // So many hours a second, at 24 hours in `lengthMin` minutes times the pace.
    const wanted = (0.6 * 24 * pace) / (rig.day.lengthMin * 60);
    expect(hour! - 6).toBeGreaterThan(0.9 * wanted);
    // The first step may take up to half a second of what passed before.
    expect(hour! - 6).toBeLessThan(wanted + (0.6 * 24 * pace) / (rig.day.lengthMin * 60));
    store.setState({ playing: false });
    jest.advanceTimersByTime(LONG_MS);
    const count = drawn.length;
    jest.advanceTimersByTime(LONG_MS);
    expect(drawn).toHaveLength(count);
    director.stop();
  });

  it('reads the light under the cursor at once, without drawing for it, and nothing when it has left', () => {
    const { director, drawn, read } = directed();
    director.renew();
    jest.advanceTimersByTime(LONG_MS);
    const count = drawn.length;
    director.point({ x: 40, y: 8 });
    expect(read).toEqual([40]);
    expect(useMeter.getState().reading).toMatchObject({ lux: 40 });
    director.point(null);
    expect(useMeter.getState().reading).toBeNull();
    expect(drawn).toHaveLength(count);
    director.stop();
  });

  it('is drawn anew for what is heard of the mix, with the stems that are muted left out', () => {
    const { director, drawn, stage } = directed();
    director.renew();
    jest.advanceTimersByTime(LONG_MS);
    const before = useListening.getState();
    useListening.setState({ view: 'light' } as never);
    jest.advanceTimersByTime(LONG_MS);
    expect(drawn).toHaveLength(2);
    expect((stage as unknown as { view: string }).view).toBe('light');
    useListening.setState(before, true);
    director.stop();
  });

  it('is nothing without a level, and nothing more once it is stopped', () => {
    const { director, drawn, store, stage } = directed();
    stage.hasLevel = false;
    director.renew();
    jest.advanceTimersByTime(LONG_MS);
    expect(drawn).toHaveLength(0);
    stage.hasLevel = true;
    director.renew();
    director.stop();
    store.getState().edit('sun', (r) => void (r.cues[0]!.holds.sun = { elevationDeg: 20 }));
    jest.advanceTimersByTime(LONG_MS);
    expect(drawn).toHaveLength(0);
  });
});
