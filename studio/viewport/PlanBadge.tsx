import { Button, Checkbox } from 'antd';
import { NumberRow } from '../desk/NumberRow';
import { linear } from '../desk/quantity';
import { flipPlan, usePlan } from './planStore';
import { useView } from './viewStore';
import styles from './viewport.module.css';

/** Over a floor, metres. */
const OVER_HEADS_M = 2.2;

/** Over the picture while the level is seen straight from above: where it is cut, and back. */
export function PlanBadge() {
  const { on, cutM } = usePlan();
  const facts = useView((s) => s.facts);
  if (!on) return null;
  const objects = facts?.() ?? [];
  const low = Math.floor(objects.reduce((least, o) => Math.min(least, o.min[1]), 0));
  const high = Math.ceil(objects.reduce((most, o) => Math.max(most, o.max[1]), low + 1));
  // Under roofs, over heads: of the floor that is looked at.
  const floor = useView.getState().placeForBall?.()[1] ?? low;
  const proposed = Number(Math.min(high, Math.max(low, floor + OVER_HEADS_M)).toFixed(2));
  return (
    <div className={styles.plan} role="group" aria-label="Plan view">
      <strong>Plan</strong>
      <Checkbox checked={cutM !== null} onChange={(event) => usePlan.setState({ cutM: event.target.checked ? proposed : null })}>
        cut
      </Checkbox>
      {cutM !== null && (
        <NumberRow
          label="At height"
          value={cutM}
          preset={proposed}
          quantity={linear('m', low, high, 0.05, 2)}
          hint="Nothing over it is drawn or clicked; it still casts its shadow"
          onChange={(v) => usePlan.setState({ cutM: v })}
        />
      )}
      <Button size="small" onClick={flipPlan}>
        Back
      </Button>
    </div>
  );
}
