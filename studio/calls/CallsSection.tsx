'use client';

import { Button } from 'antd';
import { memo, useState } from 'react';
import { addCall, callsInOrder, defaultWhen, standingStep, type Call, type CallState, type Rig } from '../../core/rig';
import { percent, type Vec3 } from '../../core/units';
import { clockText, grouped } from '../desk/quantity';
import { Section } from '../desk/Section';
import { useStudio, useStudioStore } from '../state/context';
import type { ChangeRig } from '../state/useRigEdit';
import { CallRows } from './CallRows';
import { doesText, whenText } from './callText';
import desk from '../desk/desk.module.css';
import styles from './calls.module.css';

interface Props {
  rig: Rig;
  /** The cue that a new call is for. */
  cueId: string;
  changeRig: ChangeRig;
}

/** What switches cues, circuits and the clock in the game, and a rehearsal that fires it by hand. */
export const CallsSection = memo(function CallsSection({ rig, cueId, changeRig }: Props) {
  const [open, setOpen] = useState<string | null>(null);
  const { calls } = rig;
  const add = () => {
    let made: string | null = null;
    changeRig('New call', (r) => void (made = addCall(r, defaultWhen('event'), cueId).id));
    setOpen(made);
  };
  return (
    <Section title="Calls" note={calls.length === 0 ? 'none' : String(calls.length)} rare>
      {calls.length === 0 && (
        <p className={desk.text}>
          A call switches to a cue by an event of the game, by the day, or where someone stands. Circuits and the clock may follow it.
        </p>
      )}
      {calls.map((call) => (
        <div key={call.id}>
          <CallLine call={call} rig={rig} isOpen={open === call.id} onOpen={() => setOpen(open === call.id ? null : call.id)} />
          {open === call.id && <CallRows call={call} rig={rig} changeRig={changeRig} />}
        </div>
      ))}
      <div className={desk.actions}>
        <Button size="small" onClick={add}>
          Add a call
        </Button>
        {calls.length > 0 && <RehearseButton />}
      </div>
      <Rehearsal rig={rig} />
    </Section>
  );
});

function RehearseButton() {
  const isOn = useStudio((s) => s.rehearsal !== null);
  const store = useStudioStore();
  return (
    <Button size="small" type={isOn ? 'primary' : 'default'} onClick={() => store.getState().rehearse(!isOn)}>
      {isOn ? 'End the rehearsal' : 'Rehearse'}
    </Button>
  );
}

/** One call, and what fires it while it is rehearsed. */
function CallLine({ call, rig, isOpen, onOpen }: { call: Call; rig: Rig; isOpen: boolean; onOpen(): void }) {
  const isRehearsed = useStudio((s) => s.rehearsal !== null);
  // A kept call stands on after it has handed on what it does.
  const wanted = useStudio((s) => (s.rehearsal?.calls[call.id]?.wanted ?? 0) > 0 || (s.rehearsal?.kept.includes(call.id) ?? false));
  const store = useStudioStore();
  const { when, name } = call;
  const fire = () => {
    const { happen } = store.getState();
    if (when.by === 'event') happen(wanted ? { over: when.event } : { event: when.event });
    if (when.by === 'place') happen({ at: wanted ? null : (when.min.map((v, axis) => (v + when.max[axis]!) / 2) as Vec3) });
  };
  const word = when.by === 'event' ? (wanted ? 'Over' : 'Fire') : when.by === 'place' ? (wanted ? 'Leave' : 'Enter') : '';
  return (
    <div className={styles.call} data-holds={isRehearsed && wanted}>
      <button type="button" className={styles.line} aria-expanded={isOpen} onClick={onOpen}>
        <b>{name}</b>
        <span>{whenText(when)}</span>
        <span>{doesText(call, rig.cues, rig.circuits)}</span>
      </button>
      {isRehearsed && word && (
        <Button size="small" aria-label={`${word}: ${name}`} onClick={fire}>
          {word}
        </Button>
      )}
    </div>
  );
}

/** How the game stands whose calls are tried: its clock, what is seen, and what waits under it. */
function Rehearsal({ rig }: { rig: Rig }) {
  const state = useStudio((s) => s.rehearsal);
  if (!state) return null;
  const { atS, day, hour, moonPhase, cueId, pace } = standingStep(rig, state);
  const cue = rig.cues.find((c) => c.id === cueId)?.name ?? 'the day';
  return (
    <div className={styles.rehearsal} role="status" aria-label="Rehearsal">
      <p>
        <b>{cue}</b>
        <span>
          day {day + 1}, {clockText(hour, rig.day.clock === 12)}, moon {moonPhase.toFixed(2)}
          {pace === 1 ? '' : pace === 0 ? ', clock stopped' : `, day × ${grouped(pace, 1)}`}, {grouped(atS)} s
        </span>
      </p>
      <Queue rig={rig} state={state} />
    </div>
  );
}

function Queue({ rig, state }: { rig: Rig; state: CallState }) {
  const queue = callsInOrder(rig, state).reverse();
  if (queue.length === 0) return <p>No call holds.</p>;
  return (
    <ol>
      {queue.map(({ call, standing: { share, wanted } }) => (
        <li key={call.id}>
          <i style={{ width: `${share * 100}%` }} />
          <span>{call.name}</span>
          <span>
            {percent(share)}
            {wanted === 0 ? ', going' : share < wanted ? ', coming' : ''}
          </span>
        </li>
      ))}
    </ol>
  );
}
