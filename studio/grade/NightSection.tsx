import { NumberRow } from '../desk/NumberRow';
import { linear } from '../desk/quantity';
import { Section } from '../desk/Section';
import type { GradeRows } from './gradeRows';
import { PartSwitch } from './PartSwitch';

const SHARE = linear('', 0, 1, 0.01, 2);

/** How much of colour the eye loses in the dark. */
export function NightSection({ grade, set, held }: GradeRows) {
  return (
    <Section
      title="Night vision"
      note={grade.nightVision > 0 ? undefined : 'off'}
      rare={grade.nightVision === 0}
      aside={<PartSwitch parts={['nightVision']} name="Night vision" />}
    >
      <NumberRow
        label="Amount"
        value={grade.nightVision}
        preset={0}
        held={held('nightVision')}
        quantity={SHARE}
        hint="Under 4 cd/m² colours fade and turn blue, as eyes see them; over it nothing changes"
        onChange={(v) => set('nightVision', v, `night vision ${SHARE.format(v)}`, 'night')}
      />
    </Section>
  );
}
