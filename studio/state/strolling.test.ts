import { addStroll, changeStroll, defaultRig, resolveHour, strollLight, type Rig, type StrollPlace } from '../../core/rig';
import type { ProjectView } from '../../core/api';
import { createStudioStore, currentStroll, lightingNow, shownRig } from './studioStore';

const PLACES: StrollPlace[] = [0, 10].map((atS) => ({ atS, eye: [atS, 1.65, 0], target: [atS + 1, 1.65, 0] }));

function walked(change: (rig: Rig, id: string) => void = () => undefined) {
  const rig = defaultRig();
  const id = addStroll(rig, PLACES, 50, 22);
  change(rig, id);
  const view: ProjectView = { id: 'p', name: 'Test', revision: 1, rig, level: { id: 'l' } as ProjectView['level'] };
  return { id, store: createStudioStore(view, () => 0) };
}

describe('a stroll in the studio', () => {
  it('takes the hour and the date along, and stops at its end', () => {
    const { id, store } = walked((rig, own) => changeStroll(rig, own, { light: { by: 'day', fromHour: 22, hours: 5 } }));
    store.getState().stroll({ id, atS: 0, playing: true });
    expect(store.getState()).toMatchObject({ hour: 22, days: 0 });
    store.getState().passStroll(8);
    expect(store.getState()).toMatchObject({ hour: 2, days: 1, strolling: { atS: 8, playing: true } });
    expect(lightingNow(store.getState(), 0)).toEqual(resolveHour(shownRig(store.getState()), 2));
    store.getState().passStroll(8);
    expect(store.getState().strolling).toEqual({ id, atS: 10, playing: false });
    // What stands does not go on.
    store.getState().passStroll(8);
    expect(store.getState().strolling).toEqual({ id, atS: 10, playing: false });
  });

  it('shows the cue that it has come to, in the fade between two', () => {
    const { id, store } = walked((rig, own) => {
      rig.cues[1]!.fadeS = 2;
      changeStroll(rig, own, { light: { by: 'cues', cueIds: rig.cues.map((c) => c.id) } });
    });
    const { rig } = store.getState();
    store.getState().stroll({ id, atS: 4, playing: false });
    expect(store.getState()).toMatchObject({ cueId: rig.cues[0]!.id, hour: null });
    store.getState().stroll({ id, atS: 6, playing: false });
    expect(store.getState()).toMatchObject({ cueId: rig.cues[1]!.id, hour: null });
    expect(lightingNow(store.getState(), 0)).toEqual(strollLight(rig, rig.strolls[0]!, 6));
    // The same light is the same object, so that it is drawn once.
    expect(lightingNow(store.getState(), 0)).toBe(lightingNow(store.getState(), 0));
  });

  it('is left by a go, by scrubbing, by running the day and by trying calls, and by being removed', () => {
    const { id, store } = walked();
    const leaves: (() => void)[] = [
      () => store.getState().go(store.getState().rig.cues[0]!.id),
      () => store.getState().scrub(12),
      () => store.getState().play(true),
      () => store.getState().rehearse(true),
      () => store.getState().stroll(null),
    ];
    for (const leave of leaves) {
      store.getState().stroll({ id, atS: 1, playing: true });
      expect(currentStroll(store.getState())?.id).toBe(id);
      leave();
      expect(currentStroll(store.getState())).toBeNull();
    }
    store.getState().stroll({ id, atS: 1, playing: true });
    store.getState().edit('Removed', (r) => void (r.strolls = []));
    expect(store.getState().strolling).toBeNull();
    expect(lightingNow(store.getState(), 0)).toBeDefined();
    store.getState().stroll({ id: 'none', atS: 1, playing: true });
    expect(store.getState().strolling).toBeNull();
  });
});
