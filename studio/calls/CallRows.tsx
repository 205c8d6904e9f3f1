'use client';

import { Button } from 'antd';
import { FULL, defaultWhen, removeCall, setCall, type Call, type CallClock, type CallWhen, type Rig } from '../../core/rig';
import { sameJson } from '../../core/units';
import { MomentRows } from '../desk/MomentRows';
import { NameRow } from '../desk/NameRow';
import { NumberRow } from '../desk/NumberRow';
import { PickRow } from '../desk/PickRow';
import { linear } from '../desk/quantity';
import { SwitchRow } from '../desk/SwitchRow';
import { DayRows, EventRows, PlaceRows } from './WhenRows';
import type { ChangeRig } from '../state/useRigEdit';
import { useView } from '../viewport/viewStore';
import styles from '../desk/desk.module.css';

const PRIORITY = linear('', 0, 100, 1, 0);
const FADE = linear('s', 0, 60, 0.5, 1);
const PACE = linear('×', 0, 20, 0.1, 1);
const OVER = linear('s', 0, 120, 1, 0);

const KINDS: { value: CallWhen['by']; label: string; title: string }[] = [
  { value: 'event', label: 'Event', title: 'Something that happens in the game, by its name' },
  { value: 'day', label: 'Day', title: 'From one moment of the day to another' },
  { value: 'place', label: 'Place', title: 'Someone within a box of the level' },
];
const AT_ONCE: CallClock = { to: null, overS: 0, pace: 1 };

interface Props {
  call: Call;
  rig: Rig;
  changeRig: ChangeRig;
}

/** What one call waits for, and what it does. */
export function CallRows({ call, rig, changeRig }: Props) {
  const { id, name, when, clock } = call;
  const set = (what: string, change: Partial<Omit<Call, 'id'>>, key?: string) =>
    changeRig(`${name}: ${what}`, (r) => setCall(r, id, change), key && `call ${id} ${key}`);
  const setWhen = (what: string, next: CallWhen, key?: string) => set(what, { when: next }, key);
  const setClock = (what: string, next: CallClock, key?: string) => set(what, { clock: sameJson(next, AT_ONCE) ? null : next }, key);
  const standing = clock ?? AT_ONCE;
  const here = () => useView.getState().placeForBall?.() ?? [0, 0, 0];
  return (
    <div className={styles.group}>
      <NameRow
        key={id}
        label="Name"
        value={name}
        taken={rig.calls.filter((c) => c.id !== id).map((c) => c.name)}
        onChange={(v) => set(`named ${v}`, { name: v })}
      />
      <PickRow label="Called by" value={when.by} options={KINDS} onChange={(by) => setWhen(`by ${by}`, defaultWhen(by, here()))} />
      {when.by === 'event' && <EventRows when={when} set={setWhen} />}
      {when.by === 'day' && <DayRows when={when} set={setWhen} />}
      {when.by === 'place' && <PlaceRows when={when} set={setWhen} here={here} />}
      <PickRow
        label="Cue"
        as="list"
        value={call.cueId ?? ''}
        options={[{ value: '', label: 'leaves the light' }, ...rig.cues.map((c) => ({ value: c.id, label: c.name }))]}
        onChange={(cueId) => set('another cue', { cueId: cueId || null })}
      />
      <NumberRow
        label="Priority"
        value={call.priority}
        preset={10}
        quantity={PRIORITY}
        hint="Of calls that hold at once the highest is seen; of equals, the one that began last"
        onChange={(priority) => set(`priority ${priority}`, { priority }, 'priority')}
      />
      <NumberRow
        label="Fade"
        value={call.fadeS ?? rig.cues.find((c) => c.id === call.cueId)?.fadeS ?? 0}
        preset={0}
        held={{ is: call.fadeS !== null, release: () => set('fade by the cue', { fadeS: null }), follows: 'the cue' }}
        quantity={FADE}
        hint="How long it takes to come and to go"
        onChange={(fadeS) => set(`fade ${FADE.format(fadeS)} s`, { fadeS }, 'fade')}
      />
      {rig.circuits.map((circuit) => {
        const own = call.circuits[circuit.id];
        const choose = (v: 'as it is' | 'on' | 'off') =>
          changeRig(`${name}: ${circuit.name} ${v}`, (r) => {
            const { circuits } = r.calls.find((c) => c.id === id)!;
            if (v === 'as it is') delete circuits[circuit.id];
            else circuits[circuit.id] = { ...FULL, on: v === 'on' };
          });
        return (
          <PickRow<'as it is' | 'on' | 'off'>
            key={circuit.id}
            label={circuit.name}
            value={own === undefined ? 'as it is' : own.on ? 'on' : 'off'}
            options={[
              { value: 'as it is', label: 'as it is' },
              { value: 'on', label: 'on' },
              { value: 'off', label: 'off' },
            ]}
            onChange={choose}
          />
        );
      })}
      <SwitchRow
        label="Moves the clock"
        on={standing.to !== null}
        onChange={(on) =>
          setClock(on ? 'moves the clock' : 'leaves the clock', { ...standing, to: on ? { at: 'sunrise', plusH: 0 } : null })
        }
      />
      {standing.to && (
        <>
          <MomentRows label="To" moment={standing.to} onChange={(to) => setClock('another moment', { ...standing, to }, 'clock to')} />
          <NumberRow
            label="Over"
            value={standing.overS}
            preset={0}
            quantity={OVER}
            hint="Seconds in which the day runs there; 0 is at once"
            onChange={(overS) => setClock(`clock over ${overS} s`, { ...standing, overS }, 'clock over')}
          />
        </>
      )}
      <NumberRow
        label="Day’s pace"
        value={standing.pace}
        preset={1}
        quantity={PACE}
        hint="How fast the day runs while the call holds: 0 stops it"
        onChange={(pace) => setClock(`day × ${PACE.format(pace)}`, { ...standing, pace }, 'pace')}
      />
      <SwitchRow
        label="The game may begin with it"
        on={call.mayBegin}
        onChange={(mayBegin) => set(mayBegin ? 'may begin' : 'waits at first', { mayBegin })}
      />
      <div className={styles.actions}>
        <Button size="small" onClick={() => changeRig(`Deleted the call ${name}`, (r) => removeCall(r, id))}>
          Delete the call
        </Button>
      </div>
    </div>
  );
}
