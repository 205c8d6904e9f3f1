import { NEUTRAL_GRADE, type Bloom, type Vignette } from '../../core/grade';
import { NumberRow } from '../desk/NumberRow';
import { linear, logarithmic, type Quantity } from '../desk/quantity';
import { Section } from '../desk/Section';
import { SwitchRow } from '../desk/SwitchRow';
import type { Lighting } from '../../core/rig';
import type { GradeRows } from './gradeRows';
import { useGrading } from './gradingStore';
import { OverThreshold } from './OverThreshold';
import { PartSwitch } from './PartSwitch';

const SHARE = linear('', 0, 1, 0.01, 2);
const BLOOM: { key: keyof Bloom; label: string; hint: string; quantity: Quantity }[] = [
  {
    key: 'amount',
    label: 'Bloom',
    hint: 'Share of the light over the threshold that is spread: 0.1 a clean lens, 0.5 mist',
    quantity: linear('', 0, 2, 0.01, 2),
  },
  { key: 'overEv', label: 'Threshold', hint: 'Stops over white at which it begins', quantity: linear('EV', -4, 8, 0.1, 1) },
  {
    key: 'size',
    label: 'Size',
    hint: 'How far it spreads, as a share of the picture’s height',
    quantity: logarithmic('', 0.005, 0.3, { digits: 2 }),
  },
];
const VIGNETTE: { key: keyof Vignette; label: string; hint: string; quantity: Quantity }[] = [
  { key: 'ev', label: 'Vignette', hint: 'Stops by which corners are darker', quantity: linear('EV', 0, 4, 0.05, 2) },
  { key: 'from', label: 'Begins at', hint: 'Share of the way from the middle to a corner', quantity: linear('', 0, 0.95, 0.01, 2) },
];

/** What the lens does to the light: bloom, dirt on it, darker corners. */
export function LensSection({ grade, set, held, lighting, ev100 }: GradeRows & { lighting: Lighting; ev100: number }) {
  const { bloom, dirt, vignette } = grade;
  const markBloom = useGrading((s) => s.markBloom);
  return (
    <>
      <Section title="Bloom" note={bloom.amount > 0 ? undefined : 'none'} aside={<PartSwitch parts={['bloom', 'dirt']} name="Bloom" />}>
        {BLOOM.map(({ key, label, hint, quantity }) => (
          <NumberRow
            key={key}
            label={label}
            value={bloom[key]}
            preset={NEUTRAL_GRADE.bloom[key]}
            held={key === 'amount' ? held('bloom') : undefined}
            quantity={quantity}
            hint={hint}
            onChange={(v) => set('bloom', { ...bloom, [key]: v }, `${label.toLowerCase()} of bloom ${quantity.format(v)}`, `bloom ${key}`)}
          />
        ))}
        <SwitchRow label="Mark it in the picture" on={markBloom} onChange={(on) => useGrading.setState({ markBloom: on })} />
        {bloom.amount > 0 && <OverThreshold lighting={lighting} ev100={ev100} overEv={bloom.overEv} />}
        <NumberRow
          label="Lens dirt"
          value={dirt.amount}
          preset={0}
          held={held('dirt')}
          quantity={SHARE}
          hint="Specks that light up where bloom falls on them"
          onChange={(amount) => set('dirt', { ...dirt, amount }, `lens dirt ${SHARE.format(amount)}`, 'dirt amount')}
        />
      </Section>
      <Section
        title="Vignette"
        note={vignette.ev > 0 ? undefined : 'none'}
        rare={vignette.ev === 0}
        aside={<PartSwitch parts={['vignette']} name="Vignette" />}
      >
        {VIGNETTE.map(({ key, label, hint, quantity }) => (
          <NumberRow
            key={key}
            label={label}
            value={vignette[key]}
            preset={NEUTRAL_GRADE.vignette[key]}
            held={key === 'ev' ? held('vignette') : undefined}
            quantity={quantity}
            hint={hint}
            onChange={(v) => set('vignette', { ...vignette, [key]: v }, `${label.toLowerCase()} ${quantity.format(v)}`, `vignette ${key}`)}
          />
        ))}
      </Section>
    </>
  );
}
