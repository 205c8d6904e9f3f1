import { D65_KELVIN, NEUTRAL_GRADE, TINT_RANGE, type WhiteBalance } from '../../core/grade';
import { openGroundLight, type Lighting } from '../../core/rig';
import { KELVIN_RANGE, kelvinFromRgb, type Rgb } from '../../core/units';
import { ActionRow } from '../desk/ActionRow';
import { NumberRow } from '../desk/NumberRow';
import { grouped, kelvin, linear, type Quantity } from '../desk/quantity';
import { Section } from '../desk/Section';
import type { GradeRows } from './gradeRows';
import { useGrading } from './gradingStore';
import { PartSwitch } from './PartSwitch';
import { useWhitePicker } from './useWhitePicker';
import day from '../day/day.module.css';

/** Kelvin in mired-even steps that do not step over D65. */
const KELVIN: Quantity = (() => {
  const even = kelvin(...KELVIN_RANGE);
  return { ...even, snap: (v) => (Math.abs(even.snap(v) - D65_KELVIN) < 5 ? D65_KELVIN : even.snap(v)) };
})();
const ROWS: { key: keyof WhiteBalance; label: string; hint: string; quantity: Quantity }[] = [
  {
    key: 'kelvin',
    label: 'White point',
    hint: 'Colour of the light that is shown neutral: 3 000 K lamps, 5 500 K sun, 6 504 K leaves colours alone',
    quantity: KELVIN,
  },
  {
    key: 'tint',
    label: 'Tint',
    hint: 'How far that light lies off the daylight locus, in thousandths of Duv; over 0 it is greener',
    quantity: linear('', ...TINT_RANGE, 0.5, 1),
  },
  {
    key: 'adapt',
    label: 'Adaptation',
    hint: 'Share by which the light of open ground is taken in its place, as eyes do',
    quantity: linear('', 0, 1, 0.01, 2),
  },
];

/** What is taken for white. */
export function BalanceSection({ grade, set, held, lighting }: GradeRows & { lighting: Lighting }) {
  const { whiteBalance } = grade;
  const picking = useGrading((s) => s.picking);
  useWhitePicker((found) =>
    set('whiteBalance', { ...whiteBalance, ...found, adapt: 0 }, `white is ${KELVIN.format(found.kelvin)} K, picked`, 'balance pick'),
  );
  const { sun, sky } = openGroundLight(lighting);
  const ground = kelvinFromRgb(sun.map((v, c) => v + sky[c]!) as Rgb);
  return (
    <Section title="White balance" aside={<PartSwitch parts={['whiteBalance']} name="White balance" />}>
      {ROWS.map(({ key, label, hint, quantity }) => (
        <NumberRow
          key={key}
          label={label}
          value={whiteBalance[key]}
          preset={NEUTRAL_GRADE.whiteBalance[key]}
          held={key === 'kelvin' ? held('whiteBalance') : undefined}
          quantity={quantity}
          hint={hint}
          onChange={(v) =>
            set(
              'whiteBalance',
              { ...whiteBalance, [key]: v },
              `${label.toLowerCase()} ${quantity.format(v)}${quantity.unit && ` ${quantity.unit}`}`,
              `balance ${key}`,
            )
          }
        />
      ))}
      <ActionRow
        label={picking ? 'Click in the picture' : 'Something that should be neutral'}
        action={picking ? 'never mind' : 'pick'}
        onClick={() => useGrading.setState({ picking: !picking })}
      />
      {ground !== null && <p className={day.facts}>Light on open ground: {grouped(Math.round(ground / 50) * 50)} K</p>}
    </Section>
  );
}
