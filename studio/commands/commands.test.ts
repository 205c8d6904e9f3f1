import { defaultRig } from '../../core/rig';
import type { ProjectView } from '../../core/api';
import type { BakeControl } from '../bake/useBakeControl';
import { createStudioStore, type StudioStore } from '../state/studioStore';
import { useView } from '../viewport/viewStore';
import { keyText, studioCommands } from './commands';

const view: ProjectView = { id: 'p', name: 'Test', revision: 1, rig: defaultRig(), level: { id: 'l' } as ProjectView['level'] };
const calls: string[] = [];
const bakes = (atWork: boolean) =>
  ({
    bakes: { atWork: atWork ? {} : null },
    start: () => calls.push('start'),
    cancel: () => calls.push('cancel'),
  }) as unknown as BakeControl;
const commandsOf = (store: StudioStore, atWork = false) =>
  studioCommands(store, store.getState().edit, bakes(atWork), { open: (what) => calls.push(`open ${what}`) }, () => calls.push('leave'));
const run = (store: StudioStore, id: string, atWork = false) =>
  commandsOf(store, atWork)
    .find((c) => c.id === id)!
    .run();

beforeEach(() => void calls.splice(0));

describe('what can be done in the studio', () => {
  it('has a name for all of it, and no key twice', () => {
    const commands = commandsOf(createStudioStore(view));
    for (const { name } of commands) expect(name.length).toBeGreaterThan(3);
    const keys = commands.flatMap((c) => c.keys ?? []);
    expect(new Set(keys).size).toBe(keys.length);
    expect(new Set(commands.map((c) => c.id)).size).toBe(commands.length);
  });

  it('goes to cues by their numbers, and around their ends', () => {
    const store = createStudioStore(view);
    expect(commandsOf(store).find((c) => c.id === 'go late')).toMatchObject({ name: 'Go to Late sun', keys: '2' });
    run(store, 'go late');
    expect(store.getState().cueId).toBe('late');
    run(store, 'next');
    expect(store.getState().cueId).toBe('noon');
    run(store, 'previous');
    expect(store.getState().cueId).toBe('late');
  });

  it('says what is taken back and brought forward', () => {
    const store = createStudioStore(view);
    const named = (id: string) => commandsOf(store).find((c) => c.id === id)!.name;
    expect([named('undo'), named('redo')]).toEqual(['Undo', 'Redo']);
    store.getState().edit('Moved Noon to 09:00', (r) => void (r.cues[0]!.hour = 9));
    expect(named('undo')).toBe('Undo: Moved Noon to 09:00');
    run(store, 'undo');
    expect(named('redo')).toBe('Redo: Moved Noon to 09:00');
    run(store, 'redo');
    expect(store.getState().rig.cues[0]!.hour).toBe(9);
  });

  it('bakes, or cancels the bake that is at work', () => {
    const store = createStudioStore(view);
    run(store, 'bake');
    run(store, 'cancel bake', true);
    expect(calls).toEqual(['start', 'cancel']);
    expect(commandsOf(store, true).some((c) => c.id === 'bake')).toBe(false);
  });

  it('runs and stops the day, changes the room, opens lists, and leaves', () => {
    const store = createStudioStore(view);
    run(store, 'play');
    expect(store.getState()).toMatchObject({ playing: true, hour: 12.5 });
    expect(commandsOf(store).find((c) => c.id === 'play')!.name).toBe('Stop the day');
    run(store, 'play');
    expect(store.getState().playing).toBe(false);
    run(store, 'bake room');
    expect(store.getState().room).toBe('bake');
    for (const id of ['list', 'keys', 'leave']) run(store, id);
    expect(calls).toEqual(['open list', 'open keys', 'leave']);
  });

  it('saves the view as a vantage that is reached by a command, as a step that can be taken back', () => {
    const store = createStudioStore(view);
    run(store, 'save vantage');
    expect(store.getState().past).toHaveLength(0);
    useView.setState({ vantage: () => ({ eye: [1, 2, 3], target: [0, 0, 0], fovDeg: 40 }) });
    run(store, 'save vantage');
    const saved = { id: 'vantage-1', name: 'Vantage 1', eye: [1, 2, 3], target: [0, 0, 0], fovDeg: 40 };
    expect(store.getState().rig.vantages).toEqual([saved]);
    const stand = jest.fn();
    useView.setState({ vantage: null, stand });
    run(store, 'look from vantage-1');
    run(store, 'home');
    useView.setState({ stand: null });
    expect(stand.mock.calls).toEqual([[saved], [saved]]);
    run(store, 'undo');
    expect(store.getState().rig.vantages).toEqual([]);
  });
});

describe('keys as they are shown', () => {
  it.each([
    ['mod+shift+z', 'Ctrl Shift Z'],
    ['shift+slash', '?'],
    ['period', '.'],
    ['space', 'Space'],
    ['1', '1'],
  ])('%s is %s', (keys, text) => {
    expect(keyText(keys)).toBe(text);
  });
});
