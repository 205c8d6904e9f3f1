import { memo, useMemo } from 'react';
import { MONTH_DAYS, daylightShare, isDate, nextPhase, sunEvents, withDaylight, zoneOffsetH } from '../../core/almanac';
import { DEFAULT_DAY, DEFAULT_PLACE, type Day, type RigPlace } from '../../core/rig';
import { PickRow } from '../desk/PickRow';
import { NumberRow } from '../desk/NumberRow';
import { clockText, linear, type Quantity } from '../desk/quantity';
import { Section } from '../desk/Section';
import { CityRow } from './CityRow';
import type { ChangeRig } from '../state/useRigEdit';
import day from './day.module.css';
import styles from '../desk/desk.module.css';

const PLACE: {
  key: keyof RigPlace & ('latitudeDeg' | 'longitudeDeg' | 'utcOffsetH' | 'heightM' | 'northDeg');
  label: string;
  hint: string;
  quantity: Quantity;
}[] = [
  { key: 'latitudeDeg', label: 'Latitude', hint: 'North is positive', quantity: linear('°', -90, 90, 0.5, 2) },
  { key: 'longitudeDeg', label: 'Longitude', hint: 'East is positive', quantity: linear('°', -180, 180, 0.5, 2) },
  { key: 'utcOffsetH', label: 'Clock', hint: 'Hours ahead of UTC', quantity: linear('h', -12, 14, 0.25, 2) },
  { key: 'heightM', label: 'Height', hint: 'Above the sea', quantity: linear('m', -400, 6000, 10, 0) },
  { key: 'northDeg', label: 'North', hint: 'Where north lies in the level: 0 is -Z, 90 is +X', quantity: linear('°', 0, 360, 1, 0, 360) },
];

const DRAWN: { key: 'riseH' | 'highestH' | 'setH' | 'highestDeg' | 'bearingDeg'; label: string; hint: string; quantity: Quantity }[] = [
  {
    key: 'riseH',
    label: 'Sunrise',
    hint: 'Hour of the day',
    quantity: { ...linear('', 0, 24, 1 / 12, 2), format: (v) => clockText(v, false) },
  },
  {
    key: 'highestH',
    label: 'Highest at',
    hint: 'Hour at which the sun stands highest',
    quantity: { ...linear('', 0, 24, 1 / 12, 2), format: (v) => clockText(v, false) },
  },
  {
    key: 'setH',
    label: 'Sunset',
    hint: 'Hour of the day',
    quantity: { ...linear('', 0, 24, 1 / 12, 2), format: (v) => clockText(v, false) },
  },
  { key: 'highestDeg', label: 'Highest', hint: 'Elevation at its highest', quantity: linear('°', 1, 90, 0.5, 1) },
  { key: 'bearingDeg', label: 'Bearing', hint: 'Azimuth at its highest', quantity: linear('°', 0, 360, 1, 0, 360) },
];

const DAYLIGHT = linear('%', 5, 95, 1, 0);
const MOON_AGE = linear('d', 0, MONTH_DAYS, 0.1, 1, MONTH_DAYS);

interface Props {
  place: RigPlace;
  course: Day;
  /** The moon of the moment. */
  moonDeg: number;
  litShare: number;
  changeRig: ChangeRig;
}

/** Where and when: a real place and date by the almanac, or a drawn day for an invented world. */
export const PlaceSection = memo(function PlaceSection({ place, course, moonDeg, litShare, changeRig }: Props) {
  const twelve = course.clock === 12;
  const drawn = course.course === 'drawn';
  return (
    <Section title="Place and date" note={drawn ? 'drawn' : 'by the almanac'}>
      <PickRow
        label="Course of the sun"
        value={course.course}
        options={[
          { value: 'almanac', label: 'Almanac' },
          { value: 'drawn', label: 'Drawn' },
        ]}
        onChange={(v) =>
          changeRig(v === 'drawn' ? 'Drawn day' : 'Day by the almanac', (r) => void (r.day.course = v as 'almanac' | 'drawn'))
        }
      />
      {drawn ? (
        <>
          {DRAWN.map(({ key, label, hint, quantity }) => (
            <NumberRow
              key={key}
              label={label}
              value={course.drawn[key]}
              preset={DEFAULT_DAY.drawn[key]}
              quantity={quantity}
              hint={hint}
              onChange={(v) => changeRig(`${label} ${quantity.format(v)}`, (r) => void (r.day.drawn[key] = v), `drawn ${key}`)}
            />
          ))}
          <NumberRow
            label="Daylight"
            value={daylightShare(course.drawn) * 100}
            preset={daylightShare(DEFAULT_DAY.drawn) * 100}
            quantity={DAYLIGHT}
            hint="Share of the day with the sun up; sunrise and sunset move about the highest point"
            onChange={(v) =>
              changeRig(`Daylight ${DAYLIGHT.format(v)} %`, (r) => void (r.day.drawn = withDaylight(r.day.drawn, v / 100)), 'drawn share')
            }
          />
          <NumberRow
            label="Moon's age"
            value={course.moonAgeDays % MONTH_DAYS}
            preset={DEFAULT_DAY.moonAgeDays}
            quantity={MOON_AGE}
            hint="Days since new moon on the first day; 14.8 is full"
            onChange={(v) => changeRig(`Moon of ${MOON_AGE.format(v)} days`, (r) => void (r.day.moonAgeDays = v), 'moon age')}
          />
        </>
      ) : (
        <>
          <CityRow
            name={place.name}
            onTake={({ name, latitudeDeg, longitudeDeg, timeZone }) =>
              changeRig(
                `Place ${name}`,
                (r) => void Object.assign(r.place, { name, latitudeDeg, longitudeDeg, utcOffsetH: zoneOffsetH(timeZone, r.place.date) }),
              )
            }
          />
          <div className={styles.pick}>
            <label htmlFor="date">Date</label>
            <input
              id="date"
              type="date"
              className={day.dateField}
              value={place.date}
              onChange={(event) => {
                const date = event.currentTarget.value;
                if (isDate(date)) changeRig(`Date ${date}`, (r) => void (r.place.date = date), 'date');
              }}
            />
          </div>
          <MoonDates
            place={place}
            onTake={(date, phase) => changeRig(`The next ${phase} moon, ${date}`, (r) => void (r.place.date = date), 'date')}
          />
          {PLACE.map(({ key, label, hint, quantity }) => (
            <NumberRow
              key={key}
              label={label}
              value={place[key]}
              preset={DEFAULT_PLACE[key]}
              quantity={quantity}
              hint={hint}
              onChange={(v) => changeRig(`${label} ${quantity.format(v)} ${quantity.unit}`, (r) => void (r.place[key] = v), `place ${key}`)}
            />
          ))}
          <SunTimes place={place} twelve={twelve} />
        </>
      )}
      <p className={day.facts}>
        Moon {Math.round(litShare * 100)} % lit, {moonDeg > 0 ? `${moonDeg.toFixed(0)}° high` : 'below the horizon'}
      </p>
    </Section>
  );
});

const shortDate = (date: string) =>
  new Date(`${date}T12:00:00Z`).toLocaleDateString([], { day: 'numeric', month: 'short', timeZone: 'UTC' });

/** The dates of the next full and new moon, to go to. */
function MoonDates({ place, onTake }: { place: RigPlace; onTake(date: string, phase: 'full' | 'new'): void }) {
  const { date, utcOffsetH } = place;
  const next = useMemo(
    () => (['full', 'new'] as const).map((phase) => ({ phase, date: nextPhase({ date, utcOffsetH }, phase) })),
    [date, utcOffsetH],
  );
  return (
    <div className={styles.pick}>
      <span>Next moon</span>
      <span className={day.moonDates}>
        {next.map((n) => (
          <button key={n.phase} type="button" className={styles.quiet} title={`Go to ${n.date}`} onClick={() => onTake(n.date, n.phase)}>
            {n.phase} {shortDate(n.date)}
          </button>
        ))}
      </span>
    </div>
  );
}

function SunTimes({ place, twelve }: { place: RigPlace; twelve: boolean }) {
  const { rise, transit, set, civil } = sunEvents(place);
  if (rise === null && set === null) return <p className={day.facts}>The sun neither rises nor sets on this date.</p>;
  const at = (hour: number | null) => (hour === null ? '–' : clockText(hour, twelve));
  return (
    <p className={day.facts}>
      Sunrise {at(rise)}, highest {at(transit)}, sunset {at(set)}; light from {at(civil[0])} to {at(civil[1])}
    </p>
  );
}
