import { Button } from 'antd';
import { memo } from 'react';
import { DEFAULT_DAY, bodiesAt, type Day, type RigPlace } from '../../core/rig';
import { PickRow } from '../desk/PickRow';
import { NumberRow } from '../desk/NumberRow';
import { clockText, grouped, hourOfDay, logarithmic } from '../desk/quantity';
import { Section } from '../desk/Section';
import { useStudio, useStudioStore } from '../state/context';
import { currentCue } from '../state/studioStore';
import type { ChangeRig } from '../state/useRigEdit';
import day from './day.module.css';
import styles from '../desk/desk.module.css';

const LENGTH = logarithmic('min', 0.2, 1440, { digits: 2 });
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
  const { lengthMin, startHour, clock, course } = ran;
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
