import { Select } from 'antd';
import type { Draft } from 'immer';
import { SHIPPED_AIRS, type NamedAir, type Rig } from '../../core/rig';
import { CLEAR_AIR, type Air } from '../../core/sky';
import { luminance, scaleRgb, type Rgb } from '../../core/units';
import { NumberRow } from '../desk/NumberRow';
import { linear, logarithmic, type Quantity } from '../desk/quantity';
import { Section } from '../desk/Section';
import { AirStrips } from './AirStrips';
import type { ChangeRig } from './DayDesk';
import styles from '../desk/desk.module.css';

const AMOUNT = logarithmic('×', 0.01, 100, { zero: true });
const HEIGHT = logarithmic('m', 50, 60_000, { digits: 2 });
const SHARE = linear('', 0, 1, 0.01, 2);
const FORWARD = linear('', 0, 0.99, 0.01, 2);

/** An amount against clear air of the Earth, by luminance; setting it scales the colour that is there. */
const amount = (of: Rgb, clear: Rgb) => luminance(of) / luminance(clear);
const scaledTo = (of: Rgb, clear: Rgb, times: number): Rgb =>
  luminance(of) > 0 ? scaleRgb(of, (times * luminance(clear)) / luminance(of)) : scaleRgb(clear, times);

interface Row {
  label: string;
  hint: string;
  quantity: Quantity;
  get(air: Air): number;
  set(air: Draft<Air>, value: number): void;
}

const ROWS: Row[] = [
  {
    label: 'Molecules',
    hint: 'Scatter blue: the colour of the sky, and the red of a low sun',
    quantity: AMOUNT,
    get: (a) => amount(a.molecules, CLEAR_AIR.molecules),
    set: (a, v) => void (a.molecules = scaledTo(a.molecules as Rgb, CLEAR_AIR.molecules, v)),
  },
  {
    label: 'Haze',
    hint: 'Drops and dust: whiten the sky and dim the sun',
    quantity: AMOUNT,
    get: (a) => amount(a.haze, CLEAR_AIR.haze),
    set: (a, v) => {
      const times = luminance(a.haze as Rgb) > 0 ? (v * luminance(CLEAR_AIR.haze)) / luminance(a.haze as Rgb) : null;
      a.haze = scaledTo(a.haze as Rgb, CLEAR_AIR.haze, v);
      a.hazeAbsorption = times === null ? scaleRgb(CLEAR_AIR.hazeAbsorption, v) : scaleRgb(a.hazeAbsorption as Rgb, times);
    },
  },
  {
    label: 'Haze height',
    hint: 'Height over which haze thins out to a third',
    quantity: HEIGHT,
    get: (a) => a.hazeHeightM,
    set: (a, v) => void (a.hazeHeightM = v),
  },
  {
    label: 'Forward',
    hint: 'How much of it haze sends straight on: the glow about the sun',
    quantity: FORWARD,
    get: (a) => a.hazeForward,
    set: (a, v) => void (a.hazeForward = v),
  },
  {
    label: 'Absorption',
    hint: 'The ozone layer: keeps twilight blue',
    quantity: AMOUNT,
    get: (a) => amount(a.absorption, CLEAR_AIR.absorption),
    set: (a, v) => void (a.absorption = scaledTo(a.absorption as Rgb, CLEAR_AIR.absorption, v)),
  },
  {
    label: 'Ground',
    hint: 'Reflectance of the land around, which lights the air from below',
    quantity: SHARE,
    get: (a) => luminance(a.groundAlbedo),
    set: (a, v) => void (a.groundAlbedo = scaledTo(a.groundAlbedo as Rgb, [1, 1, 1], v).map((x) => Math.min(1, x)) as Rgb),
  },
];

/** The air of the day: one of the shelf, and what it is made of. A shipped one is copied when it is changed. */
export function AirSection({ rig, named, changeRig }: { rig: Rig; named: NamedAir; changeRig: ChangeRig }) {
  const shipped = SHIPPED_AIRS.some((a) => a.id === named.id);
  const edit = (row: Row, value: number) =>
    changeRig(
      `Air: ${row.label.toLowerCase()} ${row.quantity.format(value)}`,
      (r) => {
        let own = r.airs.find((a) => a.id === r.airId);
        if (!own) {
          own = copyOf(named, r.airs as NamedAir[]);
          r.airs.push(own);
          r.airId = own.id;
        }
        row.set(own.air, value);
      },
      `air ${row.label}`,
    );
  const before = SHIPPED_AIRS.find((a) => named.id === a.id || named.id.startsWith(`${a.id}-own`))?.air ?? CLEAR_AIR;
  return (
    <Section title="Air" note={shipped ? 'from the shelf' : 'of this project'}>
      <div className={styles.pick}>
        <span id="air-name">Air</span>
        <Select
          aria-labelledby="air-name"
          size="small"
          style={{ width: 190 }}
          value={named.id}
          options={[...rig.airs, ...SHIPPED_AIRS].map((a) => ({ value: a.id, label: a.name }))}
          onChange={(airId) =>
            changeRig(`Air: ${[...rig.airs, ...SHIPPED_AIRS].find((a) => a.id === airId)!.name}`, (r) => void (r.airId = airId))
          }
        />
      </div>
      <AirStrips air={named.air} />
      {ROWS.map((row) => (
        <NumberRow
          key={row.label}
          label={row.label}
          value={row.get(named.air)}
          preset={row.get(before)}
          quantity={row.quantity}
          hint={row.hint}
          onChange={(v) => edit(row, v)}
        />
      ))}
    </Section>
  );
}

/** A copy of an air with a name and an id that are still free. */
function copyOf({ id, name, air }: NamedAir, taken: NamedAir[]): NamedAir {
  for (let n = 1; ; n++) {
    const [nextId, nextName] = [`${id}-own${n > 1 ? `-${n}` : ''}`, `${name}, ours${n > 1 ? ` ${n}` : ''}`];
    if (!taken.some((a) => a.id === nextId || a.name === nextName)) return { id: nextId, name: nextName, air: structuredClone(air) };
  }
}
