import type { SunMoment } from '../../core/almanac';
import type { Cue, RigPlace, Sun, SunLight } from '../../core/rig';
import { visibleDisc } from '../../core/sky';
import { KELVIN_RANGE, luminance } from '../../core/units';
import { ActionRow } from '../desk/ActionRow';
import { TrimRow } from '../bake/TrimRow';
import { NumberRow } from '../desk/NumberRow';
import { kelvin, linear, logarithmic, readable, type Quantity } from '../desk/quantity';
import { Section } from '../desk/Section';
import type { ChangeCue } from '../state/useRigEdit';
import { WhenRow } from './WhenRow';
import day from './day.module.css';
import styles from '../desk/desk.module.css';

const ROWS: Record<keyof Sun, { label: string; quantity: Quantity; hint: string }> = {
  azimuthDeg: { label: 'Azimuth', quantity: linear('°', 0, 360, 0.5, 1, 360), hint: 'Clockwise from north' },
  elevationDeg: { label: 'Elevation', quantity: linear('°', -20, 90, 0.5, 1), hint: 'Above the horizon; below it the sun lights nothing' },
  illuminanceLux: {
    label: 'Strength',
    quantity: logarithmic('lx', 1, 200_000, { zero: true }),
    hint: 'Its direct light on a plane that faces it; the sky keeps the light that the air gives it',
  },
  colorK: {
    label: 'Colour',
    quantity: kelvin(KELVIN_RANGE[0], KELVIN_RANGE[1]),
    hint: 'Colour temperature; from the air unless it is set',
  },
  discDeg: { label: 'Disc', quantity: logarithmic('°', 0.05, 30), hint: 'Full angle of the disc; a larger one softens shadows' },
};

/** Light weaker than this, lux, is no main light to anyone: a hundredth of a starry night's. */
const LEAST_LUX = 1e-5;

/** Colour temperature that a row starts from while the air gives the colour. */
const AIR_K = 5500;

interface Props {
  cue: Cue;
  /** The main sun as it shines. */
  sun: Omit<Sun, 'colorK'>;
  /** The main light of the moment; null where nothing shines. */
  main: SunLight | null;
  change: ChangeCue;
  /** The place whose almanac can be asked; null on a drawn day. */
  place: RigPlace | null;
  twelve: boolean;
  onTake(moment: SunMoment): void;
}

/** The main sun: by the day, or by hand where the cue holds a value (marked; a double click on the label lets go of it). */
export function SunSection({ cue, sun, main, change, place, twelve, onTake }: Props) {
  const held = cue.holds.sun ?? {};
  const count = Object.keys(held).length;
  const values: Sun = { ...sun, colorK: held.colorK ?? AIR_K };
  const seen = visibleDisc(sun.elevationDeg, sun.discDeg);
  const note = seen === 0 ? 'set: it lights nothing' : count > 0 ? `${count} of 5 set in this cue` : 'follows the day';

  const hold = (part: keyof Sun, value: number) => {
    const { label, quantity } = ROWS[part];
    change(
      `${label.toLowerCase()} ${quantity.format(value)} ${quantity.unit}`,
      (c) => void (c.holds.sun = { ...c.holds.sun, [part]: value }),
      part,
    );
  };
  const release = (part: keyof Sun) =>
    change(`${ROWS[part].label.toLowerCase()} by the day`, (c) => {
      delete c.holds.sun?.[part];
      if (c.holds.sun && Object.keys(c.holds.sun).length === 0) delete c.holds.sun;
    });

  return (
    <Section title="Sun" note={note}>
      <div className={styles.pick}>
        <span>Main light</span>
        <b className={day.main} data-kind={main && luminance(main.illuminance) >= LEAST_LUX ? main.kind : undefined}>
          {!main || luminance(main.illuminance) < LEAST_LUX
            ? 'none: the sky alone'
            : `the ${main.kind}, ${readable(luminance(main.illuminance))} lx`}
        </b>
      </div>
      {main && main.clear < 0.995 && luminance(main.illuminance) >= LEAST_LUX && (
        <p className={day.facts}>Clouds let {Math.round(main.clear * 100)} % of it through</p>
      )}
      <p className={day.facts}>
        {count > 0
          ? 'What is marked is held by this cue. A click on the mark lets it follow the day again.'
          : 'All follows the day, by place, date and hour. What is set here is held by this cue alone.'}
      </p>
      {(Object.keys(ROWS) as (keyof Sun)[]).map((part) =>
        part === 'colorK' && held.colorK === undefined ? (
          <ActionRow key={part} label="Colour" action="by the air; set kelvin" onClick={() => hold('colorK', AIR_K)} />
        ) : (
          <NumberRow
            key={part}
            label={ROWS[part].label}
            value={values[part]}
            preset={values[part]}
            held={{ is: held[part] !== undefined, release: () => release(part) }}
            quantity={ROWS[part].quantity}
            hint={ROWS[part].hint}
            onChange={(v) => hold(part, v)}
          />
        ),
      )}
      <TrimRow stem="sun" label="Sun’s strength" />
      <TrimRow stem="bounce" label="Its bounce" />
      {place && (held.azimuthDeg !== undefined || held.elevationDeg !== undefined) && (
        <WhenRow place={place} azimuthDeg={sun.azimuthDeg} elevationDeg={sun.elevationDeg} twelve={twelve} onTake={onTake} />
      )}
    </Section>
  );
}
