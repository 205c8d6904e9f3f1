import { Button } from 'antd';
import { memo } from 'react';
import { DEFAULT_DAY, bodiesAt, blendShare, type Day, type RigPlace } from '../../core/rig';
import { PickRow } from '../desk/PickRow';
import { NumberRow } from '../desk/NumberRow';
import { clockText, grouped, hourOfDay, linear, logarithmic } from '../desk/quantity';
import { Section } from '../desk/Section';
import { useStudio, useStudioStore } from '../state/context';
import { currentCue } from '../state/studioStore';
import type { ChangeRig } from '../state/useRigEdit';
import day from './day.module.css';
import styles from '../desk/desk.module.css';

const LENGTH = logarithmic('min', 0.2, 1440, { digits: 2 });
const SMOOTHNESS = linear('', 0, 1, 0.05, 2);
/** How many times faster than in the game the day may run here. */
const PACES = [1, 8, 60];

interface Props {
  /** How the day runs, and the day and place as they stand on the date that is shown. */
  ran: Day;
  today: Day;
  place: RigPlace;
  changeRig: ChangeRig;
}

/** How the day runs in the game: its length, where it begins, its clock; and running it here, on through the days. */
export const RunningDaySection = memo(function RunningDaySection({ ran, today, place, changeRig }: Props) {
  const { lengthMin, startHour, clock, course, smoothness } = ran;
  const playing = useStudio((s) => s.playing);
  const pace = useStudio((s) => s.pace);
  const days = useStudio((s) => s.days);
  const hour = useStudio((s) => Math.round(s.hour ?? currentCue(s).hour));
  const store = useStudioStore();
  const { litShare } = bodiesAt({ place, day: today }, hour)[1]!;
  const standOn = (on: number) => {
    const state = store.getState();
    state.scrub(state.hour ?? currentCue(state).hour, Math.max(0, on));
  };
  return (
    <Section title="Day cycle" note={`day ${days + 1}, ${grouped(1440 / lengthMin)}× real time`}>
      <NumberRow
        label="Length"
        value={lengthMin}
        preset={DEFAULT_DAY.lengthMin}
        quantity={LENGTH}
        hint="Minutes of the game that a whole day takes"
        onChange={(v) => changeRig(`Day of ${LENGTH.format(v)} min`, (r) => void (r.day.lengthMin = v), 'day length')}
      />
      <NumberRow
        label="Begins at"
        value={startHour}
        preset={DEFAULT_DAY.startHour}
        quantity={{ ...hourOfDay, format: (v) => clockText(v, clock === 12) }}
        hint="Hour at which the game begins"
        onChange={(v) => changeRig(`Day begins at ${clockText(v, clock === 12)}`, (r) => void (r.day.startHour = v), 'day start')}
      />
      <NumberRow
        label="Smoothness"
        value={smoothness}
        preset={DEFAULT_DAY.smoothness}
        quantity={SMOOTHNESS}
        hint="Share of the time between two cues over which one blends into the other: 0 is a switch halfway"
        onChange={(v) => changeRig(`Day blends over ${SMOOTHNESS.format(v)}`, (r) => void (r.day.smoothness = v), 'smoothness')}
      />
      <BlendCurve smoothness={smoothness} />
      <PickRow
        label="Clock"
        value={clock}
        options={[
          { value: 24, label: '24 h' },
          { value: 12, label: '12 h' },
        ]}
        onChange={(v) => changeRig(`${v}-hour clock`, (r) => void (r.day.clock = v as 12 | 24))}
      />
      <PickRow
        label="Run here"
        value={pace}
        options={PACES.map((value) => ({
          value,
          label: `${value}×`,
          title: value === 1 ? 'As in the game' : `${value} times as fast as in the game`,
        }))}
        onChange={(v) => store.setState({ pace: v as number })}
      />
      <div className={styles.pick}>
        <span className={day.today}>
          <button type="button" className={styles.quiet} aria-label="A day earlier" disabled={days === 0} onClick={() => standOn(days - 1)}>
            −
          </button>
          <b>Day {days + 1}</b>
          <button type="button" className={styles.quiet} aria-label="A day later" onClick={() => standOn(days + 1)}>
            +
          </button>
        </span>
        <span>
          {course === 'almanac' ? `${place.date}, moon` : 'Moon'} {grouped(litShare * 100)} % lit
        </span>
      </div>
      <div className={styles.actions}>
        <Button size="small" onClick={() => store.getState().scrub(startHour, 0)}>
          To the start
        </Button>
        <Button size="small" type={playing ? 'primary' : 'default'} onClick={() => store.getState().play(!playing)}>
          {playing ? 'Pause' : 'Play'}
        </Button>
      </div>
    </Section>
  );
});

const CURVE = { width: 292, height: 34, steps: 96 };

/** How one cue goes over into the next between their hours. */
function BlendCurve({ smoothness }: { smoothness: number }) {
  const { width, height, steps } = CURVE;
  const points = Array.from({ length: steps + 1 }, (_, i) => {
    const share = blendShare(i / steps, smoothness);
    return `${((i / steps) * width).toFixed(1)},${(1 + (1 - share) * (height - 2)).toFixed(1)}`;
  });
  return (
    <svg
      className={day.blend}
      width={width}
      height={height}
      role="img"
      aria-label={`From one cue to the next, at smoothness ${smoothness}`}
    >
      <polyline points={points.join(' ')} />
    </svg>
  );
}
