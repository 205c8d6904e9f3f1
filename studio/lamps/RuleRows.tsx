import { Select } from 'antd';
import type { CircuitRule } from '../../core/rig';
import { MomentRows } from '../desk/MomentRows';
import { NumberRow } from '../desk/NumberRow';
import { linear, logarithmic } from '../desk/quantity';
import { ruleText } from './DimmerPlan';
import desk from '../desk/desk.module.css';

const DARK = logarithmic('lx', 0.01, 100_000, { digits: 2 });
const APART = linear('min', 0, 120, 1, 0);

const RULES: { value: CircuitRule['by']; label: string; rule: CircuitRule }[] = [
  { value: 'off', label: 'off unless a cue says so', rule: { by: 'off' } },
  { value: 'on', label: 'always on', rule: { by: 'on' } },
  {
    value: 'hours',
    label: 'between two moments',
    rule: { by: 'hours', from: { at: 'sunset', plusH: 0 }, to: { at: 'hour', hour: 23 }, apartMin: 0 },
  },
  { value: 'darkness', label: 'in the dark', rule: { by: 'darkness', belowLux: 50 } },
];

/** When a circuit burns by itself. */
export function RuleRows({ rule, change }: { rule: CircuitRule; change(what: string, rule: CircuitRule, key?: string): void }) {
  return (
    <>
      <div className={desk.pick}>
        <span>Burns</span>
        <Select
          size="small"
          aria-label="When it burns"
          style={{ width: 190 }}
          value={rule.by}
          options={RULES.map(({ value, label }) => ({ value, label }))}
          onChange={(by: CircuitRule['by']) => change(RULES.find((r) => r.value === by)!.label, RULES.find((r) => r.value === by)!.rule)}
        />
      </div>
      {rule.by === 'darkness' && (
        <NumberRow
          label="Under"
          value={rule.belowLux}
          preset={50}
          quantity={DARK}
          hint="Light on open ground"
          onChange={(v) => change(`under ${DARK.format(v)} lx`, { by: 'darkness', belowLux: v }, 'dark')}
        />
      )}
      {rule.by === 'hours' && (
        <>
          <MomentRows
            label="From"
            moment={rule.from}
            onChange={(from) => change(`from ${ruleText({ ...rule, from })}`, { ...rule, from }, 'from')}
          />
          <MomentRows label="To" moment={rule.to} onChange={(to) => change(`burns ${ruleText({ ...rule, to })}`, { ...rule, to }, 'to')} />
          <NumberRow
            label="Apart"
            value={rule.apartMin}
            preset={0}
            quantity={APART}
            hint="Its lamps go on, and out, one after another: the last one so many minutes after the first"
            onChange={(v) =>
              change(v > 0 ? `its lamps within ${APART.format(v)} min` : 'its lamps together', { ...rule, apartMin: v }, 'apart')
            }
          />
        </>
      )}
    </>
  );
}
