import { Button, Segmented } from 'antd';
import { DEFAULT_DAY, type Rig } from '../../core/rig';
import { NumberRow } from '../desk/NumberRow';
import { clockText, hourOfDay, logarithmic } from '../desk/quantity';
import { Section } from '../desk/Section';
import { useStudio, useStudioStore } from '../state/context';
import type { ChangeRig } from './DayDesk';
import styles from '../desk/desk.module.css';

const LENGTH = logarithmic('min', 0.2, 1440, { digits: 2 });

/** How the day runs in the game: its length, where it begins, its clock. */
export function RunningDaySection({ rig, changeRig }: { rig: Rig; changeRig: ChangeRig }) {
  const { lengthMin, startHour, clock } = rig.day;
  const playing = useStudio((s) => s.playing);
  const store = useStudioStore();
  return (
    <Section title="The day runs" note={`${LENGTH.format(lengthMin)} min`}>
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
      <div className={styles.pick}>
        <Segmented
          size="small"
          value={clock}
          options={[
            { value: 24, label: '24 h' },
            { value: 12, label: '12 h' },
          ]}
          onChange={(v) => changeRig(`${v}-hour clock`, (r) => void (r.day.clock = v as 12 | 24))}
        />
        <span className={styles.actions}>
          <Button size="small" onClick={() => store.getState().scrub(startHour)}>
            To the start
          </Button>
          <Button size="small" type={playing ? 'primary' : 'default'} onClick={() => store.getState().play(!playing)}>
            {playing ? 'Pause' : 'Play'}
          </Button>
        </span>
      </div>
    </Section>
  );
}
