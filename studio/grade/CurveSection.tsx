import { NEUTRAL_GRADE, type CurveName } from '../../core/grade';
import { NumberRow } from '../desk/NumberRow';
import { PickRow } from '../desk/PickRow';
import { linear, logarithmic } from '../desk/quantity';
import { Section } from '../desk/Section';
import type { GradeRows } from './gradeRows';
import { PartSwitch } from './PartSwitch';

const CONTRAST = logarithmic('×', 0.2, 4, { digits: 3 });
const PIVOT = linear('', 0.01, 1, 0.01, 2);
const CURVES: { value: CurveName; label: string; title: string }[] = [
  { value: 'neutral', label: 'Neutral', title: 'As it is up to 0.8 of white, then softly to white, hues kept' },
  { value: 'linear', label: 'Linear', title: 'As it is, cut at white' },
  { value: 'filmic', label: 'Filmic', title: 'Soft shoulder and toe (Hable 2010)' },
  { value: 'aces', label: 'ACES', title: 'Like the reference rendering of ACES (Narkowicz 2016)' },
];

/** Contrast about a pivot, and the curve that brings the scene into the display's range. */
export function CurveSection({ grade, set, held }: GradeRows) {
  const { contrast, curve } = grade;
  return (
    <Section title="Contrast and curve" aside={<PartSwitch parts={['contrast', 'curve']} name="Contrast and curve" />}>
      <NumberRow
        label="Contrast"
        value={contrast.amount}
        preset={1}
        held={held('contrast')}
        quantity={CONTRAST}
        hint="Power about the pivot: over 1 is harder"
        onChange={(amount) => set('contrast', { ...contrast, amount }, `contrast × ${CONTRAST.format(amount)}`, 'contrast')}
      />
      <NumberRow
        label="Pivot"
        value={contrast.pivot}
        preset={NEUTRAL_GRADE.contrast.pivot}
        quantity={PIVOT}
        hint="What contrast leaves as it is: 0.18 is mid-grey"
        onChange={(pivot) => set('contrast', { ...contrast, pivot }, `pivot ${PIVOT.format(pivot)}`, 'pivot')}
      />
      <PickRow
        label="Tone curve"
        value={curve}
        options={CURVES}
        held={held('curve')}
        onChange={(v) => set('curve', v, `${v} tone curve`, 'curve')}
      />
    </Section>
  );
}
