import { NEUTRAL_GRADE } from '../../core/grade';
import { NumberRow } from '../desk/NumberRow';
import { linear } from '../desk/quantity';
import { Section } from '../desk/Section';
import { SwitchRow } from '../desk/SwitchRow';
import type { GradeRows } from './gradeRows';
import { PartSwitch } from './PartSwitch';

const AMOUNT = linear('', 0, 0.3, 0.002, 3);
const SIZE = linear('px', 1, 8, 0.1, 1);

/** Grain and smoothed edges of the finished picture. */
export function FinishSection({ grade, set, held }: GradeRows) {
  const { grain, smoothing } = grade;
  const isPlain = grain.amount === 0 && !smoothing;
  return (
    <Section
      title="Grain and edges"
      note={isPlain ? 'none' : undefined}
      rare={isPlain}
      aside={<PartSwitch parts={['grain', 'smoothing']} name="Grain and edges" />}
    >
      <NumberRow
        label="Grain"
        value={grain.amount}
        preset={0}
        held={held('grain')}
        quantity={AMOUNT}
        hint="Deviation in mid-tones, as a share of the display’s range: 0.02 fine film, 0.06 coarse"
        onChange={(amount) => set('grain', { ...grain, amount }, `grain ${AMOUNT.format(amount)}`, 'grain amount')}
      />
      <NumberRow
        label="Grain size"
        value={grain.sizePx}
        preset={NEUTRAL_GRADE.grain.sizePx}
        quantity={SIZE}
        hint="Of a grain in the picture"
        onChange={(sizePx) => set('grain', { ...grain, sizePx }, `grain of ${SIZE.format(sizePx)} px`, 'grain size')}
      />
      <SwitchRow
        label="Smooth edges"
        on={smoothing}
        onChange={(on) => set('smoothing', on, on ? 'edges smoothed' : 'edges as they are', 'smoothing')}
      />
    </Section>
  );
}
