import { STEMS, addVantage } from '../../core/rig';
import { STEM_LABELS, VIEWS, flipMuteCircuit, flipSolo, flipSoloCircuit, hearAll } from '../bake/looking';
import type { BakeControl } from '../bake/useBakeControl';
import { useCueTable } from '../cues/cueChoice';
import { flipPart, useGrading } from '../grade/gradingStore';
import { flipHistory } from '../history/historyStore';
import { flipKept } from '../shelf/keptStore';
import { lampActions } from '../lamps/lampActions';
import { flipBall } from '../lamps/useBallGesture';
import { openOrClose, useLampTool } from '../lamps/lampTool';
import { chooseAllLike, chooseObjects } from '../objects/objectChoice';
import { currentCue, vantageOf, type StudioStore } from '../state/studioStore';
import type { ChangeRig } from '../state/useRigEdit';
import { useListening, type PictureView } from '../viewport/mix/listening';
import { flipPlan } from '../viewport/planStore';
import { useView } from '../viewport/viewStore';
import { flipCrouch } from '../viewport/walking/flipCrouch';

/** Something that can be done, by key or from the list. */
export interface Command {
  id: string;
  /** What it does, as a phrase that can be searched. */
  name: string;
  /** Keys as react-hotkeys-hook writes them; none where it is reached by the list alone. */
  keys?: string;
  run(): void;
}

/** One hand on the keyboard reaches those that are asked for most. */
const VIEW_KEYS: Partial<Record<PictureView, string>> = { bench: 'b', light: 'i', density: 'j' };

/** The key that shows the picture without its grade: for good when pressed, for as long as it is down when held. */
export const UNGRADED_KEY = 'q';

/** Opens and closes what stands over the studio. */
export interface Overlays {
  open(overlay: 'list' | 'keys'): void;
}

/**
 * All that can be done in the studio at this moment.
 *
 * @param edit changes the rig, and tells what is refused
 */
export function studioCommands(store: StudioStore, edit: ChangeRig, bakes: BakeControl, overlays: Overlays, leave: () => void): Command[] {
  const { rig, past, future, cueId } = store.getState();
  const { undo, redo, go, enter } = store.getState();
  const at = rig.cues.findIndex((c) => c.id === cueId);
  const step = (by: number) => () => go(rig.cues[(at + by + rig.cues.length) % rig.cues.length]!.id);
  return [
    ...rig.cues.map((cue, i) => ({
      id: `go ${cue.id}`,
      name: `Go to ${cue.name}`,
      keys: i < 9 ? String(i + 1) : undefined,
      run: () => go(cue.id),
    })),
    { id: 'next', name: 'Go to the next cue', keys: 'period', run: step(1) },
    { id: 'previous', name: 'Go to the cue before', keys: 'comma', run: step(-1) },
    {
      id: 'play',
      name: store.getState().playing ? 'Stop the day' : 'Run the day',
      keys: 'space',
      run: () => store.getState().play(!store.getState().playing),
    },
    {
      id: 'motion',
      name: 'Show lamps that flicker and move, or steady light',
      run: () => useListening.setState(({ showsMotion }) => ({ showsMotion: !showsMotion })),
    },
    { id: 'undo', name: past.length > 0 ? `Undo: ${past.at(-1)!.label}` : 'Undo', keys: 'mod+z', run: undo },
    { id: 'redo', name: future.length > 0 ? `Redo: ${future[0]!.label}` : 'Redo', keys: 'mod+shift+z', run: redo },
    { id: 'day', name: 'Open the Day room', keys: 'f', run: () => enter('day') },
    { id: 'lamps room', name: 'Open the Lamps room', keys: 'l', run: () => enter('lamps') },
    {
      id: 'dimmer plan',
      name: 'Open or close the dimmer plan',
      keys: 'p',
      run: () => {
        enter('lamps');
        useLampTool.setState(({ plan }) => ({ plan: !plan }));
      },
    },
    {
      id: 'cue table',
      name: 'Open or close the table of values by cues',
      keys: 'e',
      run: () => useCueTable.setState(({ open }) => ({ open: !open })),
    },
    { id: 'history', name: 'Open or close the history', keys: 'y', run: flipHistory },
    { id: 'shelf', name: 'Open or close the shelf of all projects', keys: 'k', run: flipKept },
    ...VIEWS.map(({ value, label }) => ({
      id: `show ${value}`,
      name: `Show: ${label.toLowerCase()}`,
      keys: VIEW_KEYS[value],
      run: () => useListening.setState(({ view }) => ({ view: view === value ? 'picture' : value })),
    })),
    ...STEMS.map((stem) => ({ id: `solo ${stem}`, name: `Show alone: ${STEM_LABELS[stem].toLowerCase()}`, run: () => flipSolo(stem) })),
    { id: 'hear all', name: 'Show all stems and circuits', keys: 'u', run: hearAll },
    {
      id: 'place lamp',
      name: 'Place a lamp',
      keys: 'n',
      run: () => {
        enter('lamps');
        useLampTool.setState({ mode: 'place', fixtureId: null });
      },
    },
    { id: 'all like it', name: 'Choose all objects like the chosen one', keys: 'm', run: chooseAllLike },
    { id: 'no objects', name: 'Choose no objects', run: () => chooseObjects([]) },
    {
      id: 'open copy',
      name: useLampTool.getState().openId === null ? 'Open the chosen copy of a fixture in place' : 'Close the copy that is open',
      keys: 'o',
      run: () => {
        enter('lamps');
        openOrClose(store.getState().rig);
      },
    },
    { id: 'duplicate', name: 'Duplicate the chosen lamps', keys: 'mod+d', run: () => lampActions(store, edit).duplicate() },
    {
      id: 'copy values',
      name: 'Copy the values of the chosen lamp',
      keys: 'mod+shift+c',
      run: () => lampActions(store, edit).copyValues(),
    },
    {
      id: 'paste values',
      name: 'Paste the copied values on the chosen lamps',
      keys: 'mod+shift+v',
      run: () => lampActions(store, edit).pasteValues(),
    },
    { id: 'line up below', name: 'Line the chosen lamps up with what is above', run: () => lampActions(store, edit).lineUp('above') },
    { id: 'line up above', name: 'Line the chosen lamps up with what is below', run: () => lampActions(store, edit).lineUp('below') },
    ...rig.circuits.flatMap((circuit, i) => [
      {
        id: `to ${circuit.id}`,
        name: `Chosen lamps to ${circuit.name}`,
        keys: i < 9 ? `shift+${i + 1}` : undefined,
        run: () => lampActions(store, edit).toCircuit(i),
      },
      { id: `solo circuit ${circuit.id}`, name: `Show the circuit alone: ${circuit.name}`, run: () => flipSoloCircuit(circuit.id) },
      { id: `mute circuit ${circuit.id}`, name: `Mute the circuit: ${circuit.name}`, run: () => flipMuteCircuit(circuit.id) },
    ]),
    { id: 'to no circuit', name: 'Chosen lamps to no circuit', keys: 'shift+0', run: () => lampActions(store, edit).toCircuit(null) },
    { id: 'bake room', name: 'Open the Bake room', keys: 'g', run: () => enter('bake') },
    { id: 'grade room', name: 'Open the Grade room', keys: 'c', run: () => enter('grade') },
    { id: 'compare room', name: 'Open the Compare room', keys: 'r', run: () => enter('compare') },
    {
      id: 'ungraded',
      name: 'Show the picture with or without its grade; held, while the key is down',
      keys: UNGRADED_KEY,
      run: () => useListening.setState(({ ungraded }) => ({ ungraded: !ungraded })),
    },
    {
      id: 'part off',
      name: 'Switch the part of the grade that was changed last off or on',
      keys: 'x',
      run: () => flipPart(useGrading.getState().last),
    },
    {
      id: 'mark bloom',
      name: 'Mark in the picture what bloom spreads',
      run: () => useGrading.setState(({ markBloom }) => ({ markBloom: !markBloom })),
    },
    bakes.bakes.atWork
      ? { id: 'cancel bake', name: 'Cancel the bake', run: bakes.cancel }
      : { id: 'bake', name: 'Bake', keys: 'mod+b', run: bakes.start },
    { id: 'ball', name: 'Put a test ball into the level, or remove it', run: flipBall },
    { id: 'plan', name: 'Look at the level straight from above, or no more', keys: 't', run: flipPlan },
    {
      id: 'home',
      name: 'Look from the vantage of the cue',
      keys: 'h',
      run: () => useView.getState().stand?.(vantageOf(store.getState(), currentCue(store.getState()))),
    },
    ...rig.vantages.map((vantage, i) => ({
      id: `look from ${vantage.id}`,
      name: `Look from ${vantage.name}`,
      keys: i < 9 ? vantageKeys(i) : undefined,
      run: () => useView.getState().stand?.(vantage),
    })),
    { id: 'whole', name: 'Look at the whole level', keys: 'shift+h', run: () => useView.getState().stand?.(null) },
    {
      id: 'save vantage',
      name: 'Save this view as a vantage',
      keys: 'v',
      run: () => {
        const view = useView.getState().vantage?.();
        if (view) edit('New vantage', (r) => void addVantage(r, view));
      },
    },
    { id: 'crouch', name: 'Crouch on foot, or stand up', keys: 'z', run: flipCrouch },
    { id: 'list', name: 'List of all commands', keys: 'mod+k', run: () => overlays.open('list') },
    { id: 'keys', name: 'Sheet of all keys', keys: 'shift+slash', run: () => overlays.open('keys') },
    { id: 'leave', name: 'Back to the shelf', run: leave },
  ];
}

/** The keys that look from the vantage of that number. */
export const vantageKeys = (i: number) => `alt+${i + 1}`;

const SYMBOLS: Readonly<Record<string, string>> = { period: '.', comma: ',', slash: '/' };

/** "Ctrl Shift Z": keys as they are shown. */
export function keyText(keys: string): string {
  if (keys === 'shift+slash') return '?';
  return keys
    .split('+')
    .map((k) => (k === 'mod' ? 'Ctrl' : (SYMBOLS[k] ?? k[0]!.toUpperCase() + k.slice(1))))
    .join(' ');
}
