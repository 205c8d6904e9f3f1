'use client';

import { Button } from 'antd';
import { FULL_MOON, NEW_MOON, type CallDays, type CallUntil, type CallWhen } from '../../core/rig';
import { sameJson } from '../../core/units';
import { MomentRows } from '../desk/MomentRows';
import { NameRow } from '../desk/NameRow';
import { NumberRow } from '../desk/NumberRow';
import { PickRow } from '../desk/PickRow';
import { linear, logarithmic } from '../desk/quantity';
import styles from '../desk/desk.module.css';

const SECONDS = logarithmic('s', 0.1, 3600, { digits: 2 });
const EVERY = linear('days', 1, 30, 1, 0);
const FIRST = linear('', 0, 30, 1, 0);
const PHASE = linear('', 0, 1, 0.01, 2);
const BLEND = linear('m', 0, 50, 0.25, 2);
const SIZE = logarithmic('m', 0.2, 500, { digits: 3 });

type Set<W extends CallWhen['by']> = { when: Extract<CallWhen, { by: W }>; set(what: string, next: CallWhen, key?: string): void };

const UNTIL: { value: CallUntil['is']; label: string; title: string }[] = [
  { value: 'over', label: 'Its end', title: 'Until the game says that the event is over' },
  { value: 'after', label: 'A while', title: 'For some seconds, counted anew by each event' },
  { value: 'kept', label: 'Kept', title: 'Its cue is the one that stands from then on' },
];

/** An event of the game, by its name. */
export function EventRows({ when, set }: Set<'event'>) {
  const { event, until } = when;
  return (
    <>
      <NameRow key={event} label="Event" value={event} taken={[]} onChange={(v) => set(`by ${v}`, { ...when, event: v })} />
      <PickRow
        label="Holds until"
        value={until.is}
        options={UNTIL}
        onChange={(is) => set(`holds ${is}`, { ...when, until: is === 'after' ? { is, seconds: 10 } : { is } })}
      />
      {until.is === 'after' && (
        <NumberRow
          label="For"
          value={until.seconds}
          preset={10}
          quantity={SECONDS}
          onChange={(seconds) => set(`for ${SECONDS.format(seconds)} s`, { ...when, until: { is: 'after', seconds } }, 'seconds')}
        />
      )}
    </>
  );
}

const MOONS: { value: 'any' | 'full' | 'new' | 'own'; label: string }[] = [
  { value: 'any', label: 'any' },
  { value: 'full', label: 'full' },
  { value: 'new', label: 'new' },
  { value: 'own', label: 'phases' },
];

/** A span of the day, on some days. */
export function DayRows({ when, set }: Set<'day'>) {
  const { from, to, days } = when;
  const { every, first, moon } = days;
  const setDays = (what: string, change: Partial<CallDays>, key?: string) => set(what, { ...when, days: { ...days, ...change } }, key);
  const which = moon === null ? 'any' : sameJson(moon, FULL_MOON) ? 'full' : sameJson(moon, NEW_MOON) ? 'new' : 'own';
  const choose = (v: (typeof MOONS)[number]['value']) =>
    setDays(`${v} moon`, { moon: { any: null, full: FULL_MOON, new: NEW_MOON, own: moon ?? { from: 0.2, to: 0.8 } }[v] });
  return (
    <>
      <MomentRows label="From" moment={from} onChange={(v) => set('another beginning', { ...when, from: v }, 'from')} />
      <MomentRows label="To" moment={to} onChange={(v) => set('another end', { ...when, to: v }, 'to')} />
      <NumberRow
        label="Every"
        value={every}
        preset={1}
        quantity={EVERY}
        hint="1 is each day; a span over midnight is that of the day on which it begins"
        onChange={(v) => setDays(`every ${v} days`, { every: v }, 'every')}
      />
      {every > 1 && (
        <NumberRow
          label="From day"
          value={first}
          preset={0}
          quantity={FIRST}
          hint="Days after the date on which the game begins"
          onChange={(v) => setDays(`from day ${v}`, { first: v }, 'first')}
        />
      )}
      <PickRow label="Moon" value={which} options={MOONS} onChange={choose} />
      {moon && which === 'own' && (
        <>
          <NumberRow
            label="Phase from"
            value={moon.from}
            preset={0.45}
            quantity={PHASE}
            hint="0 new, 0.25 first quarter, 0.5 full"
            onChange={(v) => setDays('phase', { moon: { ...moon, from: v } }, 'phase from')}
          />
          <NumberRow
            label="Phase to"
            value={moon.to}
            preset={0.55}
            quantity={PHASE}
            onChange={(v) => setDays('phase', { moon: { ...moon, to: v } }, 'phase to')}
          />
        </>
      )}
    </>
  );
}

const AXES = ['Width (X)', 'Height (Y)', 'Depth (Z)'];

/** A box of the level. */
export function PlaceRows({ when, set, here }: Set<'place'> & { here(): readonly [number, number, number] }) {
  const { min, max, blendM } = when;
  /** The box about its middle, its floor kept. */
  const resize = (axis: number, size: number) => {
    const [low, high] = [[...min], [...max]] as [typeof min, typeof max];
    const middle = (min[axis]! + max[axis]!) / 2;
    low[axis] = axis === 1 ? min[1] : middle - size / 2;
    high[axis] = axis === 1 ? min[1] + size : middle + size / 2;
    set(`box ${SIZE.format(size)} m`, { ...when, min: low, max: high }, `size ${axis}`);
  };
  const moveHere = () => {
    const at = here();
    const half = max.map((v, axis) => (v - min[axis]!) / 2);
    const low: typeof min = [at[0] - half[0]!, at[1] - 0.5, at[2] - half[2]!];
    set('box about the view', { ...when, min: low, max: low.map((v, axis) => v + 2 * half[axis]!) as typeof max });
  };
  return (
    <>
      {AXES.map((label, axis) => (
        <NumberRow key={label} label={label} value={max[axis]! - min[axis]!} preset={6} quantity={SIZE} onChange={(v) => resize(axis, v)} />
      ))}
      <NumberRow
        label="Blends over"
        value={blendM}
        preset={2}
        quantity={BLEND}
        hint="Metres about the box in which it comes and goes"
        onChange={(v) => set(`blends over ${BLEND.format(v)} m`, { ...when, blendM: v }, 'blend')}
      />
      <div className={styles.actions}>
        <Button size="small" onClick={moveHere}>
          Put it where I look
        </Button>
      </div>
    </>
  );
}
