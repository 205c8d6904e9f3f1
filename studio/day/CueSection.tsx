import { Button } from 'antd';
import { memo } from 'react';
import { TYPICAL_CUES, paintedDay, removeCue, setStartCue, typicalCue, type Cue, type CueKind, type TypicalCue } from '../../core/rig';
import { PickRow } from '../desk/PickRow';
import { NumberRow } from '../desk/NumberRow';
import { clockText, grouped, hourOfDay, linear } from '../desk/quantity';
import { Section } from '../desk/Section';
import { ColorMarks, NoteField } from '../cues/CueMarks';
import { useCueTable } from '../cues/cueChoice';
import { SwitchRow } from '../desk/SwitchRow';
import { useStudio, useStudioStore } from '../state/context';
import type { ChangeCue, ChangeRig } from '../state/useRigEdit';
import { freeName } from '../../core/units';
import styles from '../desk/desk.module.css';

const FADE = linear('s', 0, 20, 0.5, 1);
const KINDS: { value: CueKind; label: string; title: string }[] = [
  { value: 'timed', label: 'Timed', title: 'Pinned on the day, blends with its neighbours' },
  { value: 'free', label: 'Free', title: 'Reached by switching only' },
  { value: 'bench', label: 'Bench', title: 'Plain work light, never handed off' },
];

/** Typical cues, with when they stand. */
const TYPICAL_LABELS: Readonly<Record<TypicalCue, string>> = {
  dawn: 'Dawn, after sunrise',
  noon: 'Noon, the sun at its highest',
  dusk: 'Dusk, before sunset',
  night: 'Night, in the middle',
  overcast: 'Overcast, free',
};

interface Props {
  cue: Cue;
  twelve: boolean;
  /** Whether it is the last one, which stays. */
  only: boolean;
  change: ChangeCue;
  changeRig: ChangeRig;
}

/** The cue itself: its hour, its fade, its kind, what is said of it; copying and deleting it, and making others. */
export const CueSection = memo(function CueSection({ cue, twelve, only, change, changeRig }: Props) {
  const store = useStudioStore();
  const copy = () => {
    const { id, name } = freeName(store.getState().rig.cues, cue.name);
    changeRig(`Copied ${cue.name}`, (r) => {
      const at = r.cues.findIndex((c) => c.id === cue.id);
      r.cues.splice(at + 1, 0, { ...structuredClone(cue), id, name });
    });
    store.getState().go(id, 0);
  };
  const isStart = useStudio((s) => s.rig.startCueId === cue.id);
  const paint = () => {
    const made = paintedDay(store.getState().rig);
    changeRig('New painted day', (r) => void r.cues.push(...made));
    if (!store.getState().rig.cues.some((c) => c.id === made[0]!.id)) return;
    store.getState().go(made[0]!.id, 0);
    useCueTable.setState({ open: true });
  };
  const addTypical = (which: TypicalCue) => {
    const { rig } = store.getState();
    const made = typicalCue(rig, which);
    const added: Cue = { ...made, ...freeName(rig.cues, made.name) };
    changeRig(`New cue ${added.name}`, (r) => void r.cues.push(added));
    store.getState().go(added.id, 0);
  };
  return (
    <Section title="Cue" note={KINDS.find((k) => k.value === cue.kind)!.label.toLowerCase()}>
      <NumberRow
        label="Hour"
        value={cue.hour}
        preset={cue.hour}
        quantity={{ ...hourOfDay, format: (v) => clockText(v, twelve) }}
        hint="Where the day stands in this cue"
        onChange={(v) => change(`moved to ${clockText(v, twelve)}`, (c) => void (c.hour = v), 'hour')}
      />
      <NumberRow
        label="Fade"
        value={cue.fadeS}
        preset={1}
        quantity={FADE}
        hint="How long a go to this cue takes"
        onChange={(v) => change(`fade ${grouped(v, 1)} s`, (c) => void (c.fadeS = v), 'fade')}
      />
      <PickRow label="Kind" value={cue.kind} options={KINDS} onChange={(v) => change(`${v} cue`, (c) => void (c.kind = v as CueKind))} />
      <SwitchRow
        label="The game begins here"
        on={isStart}
        onChange={(on) =>
          changeRig(on ? `${cue.name} begins the game` : 'The day begins the game', (r) => setStartCue(r, on ? cue.id : null))
        }
      />
      <SwitchRow
        label="In the handoff"
        on={cue.handedOff && cue.kind !== 'bench'}
        disabled={cue.kind === 'bench'}
        onChange={(on) => change(on ? 'in the handoff' : 'not in the handoff', (c) => void (c.handedOff = on))}
      />
      <ColorMarks value={cue.color} onChange={(color) => change(color ? `marked ${color}` : 'not marked', (c) => void (c.color = color))} />
      <NoteField key={cue.id} value={cue.note} onChange={(note) => change('note', (c) => void (c.note = note))} />
      <div className={styles.actions}>
        <Button size="small" onClick={copy}>
          Copy
        </Button>
        <Button size="small" disabled={only} onClick={() => changeRig(`Deleted ${cue.name}`, (r) => removeCue(r, cue.id))}>
          Delete
        </Button>
      </div>
      <PickRow<TypicalCue | ''>
        label="New typical cue"
        as="list"
        value=""
        options={[{ value: '', label: 'Choose' }, ...TYPICAL_CUES.map((value) => ({ value, label: TYPICAL_LABELS[value] }))]}
        onChange={(which) => which !== '' && addTypical(which)}
      />
      <div className={styles.actions}>
        <Button size="small" title="Dawn, midday, dusk and midnight with painted skies, side by side in the table" onClick={paint}>
          New painted day
        </Button>
        <Button size="small" title="Key E" onClick={() => useCueTable.setState(({ open }) => ({ open: !open }))}>
          Values by cues
        </Button>
      </div>
    </Section>
  );
});
