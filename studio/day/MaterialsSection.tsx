import { Button, Input } from 'antd';
import { memo } from 'react';
import { removeMaterialRule, setMaterialRule } from '../../core/rig';
import type { MaterialRule, MaterialShares } from '../../core/weather';
import { ActionRow } from '../desk/ActionRow';
import { NumberRow } from '../desk/NumberRow';
import { linear } from '../desk/quantity';
import { Section } from '../desk/Section';
import type { ChangeRig } from '../state/useRigEdit';
import desk from '../desk/desk.module.css';

const SHARE = linear('', 0, 1, 0.01, 2);
const ROWS: { key: keyof MaterialShares; label: string; hint: string }[] = [
  { key: 'wet', label: 'Wets', hint: '0 stays dry, 1 takes all of it' },
  { key: 'puddles', label: 'Puddles', hint: '0 none stand on it' },
  { key: 'snow', label: 'Snow lies', hint: '0 none lies on it' },
  { key: 'dust', label: 'Dust lies', hint: '0 none lies on it' },
];

/** What materials take of rain, snow and dust, by rules on their names; what stands under a roof stays dry without one. */
export const MaterialsSection = memo(function MaterialsSection({ rules, changeRig }: { rules: MaterialRule[]; changeRig: ChangeRig }) {
  const set = (rule: MaterialRule, what: string, key: string) =>
    changeRig(`Materials ${rule.pattern}: ${what}`, (r) => setMaterialRule(r, rule), `${rule.id} ${key}`);
  const add = () => {
    const taken = new Set(rules.map((r) => r.id));
    const id = [...Array(201).keys()].map((i) => `rule-${i + 1}`).find((free) => !taken.has(free))!;
    set({ id, pattern: '*', wet: 0, puddles: 0, snow: 0, dust: 0 }, 'a rule', 'add');
  };
  return (
    <Section title="Weather on materials" note={rules.length === 0 ? 'all alike' : `${rules.length} rules`} rare>
      <p className={desk.text}>The last rule that a material’s name is of holds; * stands for any letters.</p>
      {rules.map((rule) => (
        <div key={rule.id}>
          <div className={desk.pick}>
            <span>Names</span>
            <Input
              size="small"
              style={{ width: 190 }}
              aria-label="Names of materials"
              defaultValue={rule.pattern}
              onBlur={(event) => {
                const pattern = event.currentTarget.value.trim();
                if (pattern && pattern !== rule.pattern) set({ ...rule, pattern }, 'other names', 'pattern');
              }}
            />
          </div>
          {ROWS.map(({ key, label, hint }) => (
            <NumberRow
              key={key}
              label={label}
              value={rule[key]}
              preset={1}
              quantity={SHARE}
              hint={hint}
              onChange={(v) => set({ ...rule, [key]: v }, `${label.toLowerCase()} ${SHARE.format(v)}`, key)}
            />
          ))}
          <ActionRow
            label=""
            action="remove"
            onClick={() => changeRig(`Rule ${rule.pattern} taken away`, (r) => removeMaterialRule(r, rule.id))}
          />
        </div>
      ))}
      <div className={desk.actions}>
        <Button size="small" disabled={rules.length >= 200} onClick={add}>
          Add a rule
        </Button>
      </div>
    </Section>
  );
});
