import { Button } from 'antd';
import { memo } from 'react';
import type { OtherBody } from '../../core/rig';
import { KELVIN_RANGE } from '../../core/units';
import { ActionRow } from '../desk/ActionRow';
import { NumberRow } from '../desk/NumberRow';
import { kelvin, linear, logarithmic, type Quantity } from '../desk/quantity';
import { Section } from '../desk/Section';
import type { ChangeRig } from '../state/useRigEdit';
import styles from '../desk/desk.module.css';

const ROWS: { key: 'behindH' | 'illuminanceLux' | 'colorK' | 'discDeg'; label: string; hint: string; quantity: Quantity }[] = [
  { key: 'behindH', label: 'Behind', hint: 'Hours behind the main sun, on its path', quantity: linear('h', -12, 12, 0.25, 2) },
  {
    key: 'illuminanceLux',
    label: 'Strength',
    hint: 'Above the air, on a plane that faces it',
    quantity: logarithmic('lx', 0.001, 200_000, { zero: true }),
  },
  { key: 'colorK', label: 'Colour', hint: 'Colour temperature', quantity: kelvin(KELVIN_RANGE[0], KELVIN_RANGE[1]) },
  { key: 'discDeg', label: 'Disc', hint: 'Full angle of the disc', quantity: logarithmic('°', 0.05, 30) },
];

const PRESETS: Record<OtherBody['kind'], Omit<OtherBody, 'id' | 'name'>> = {
  sun: { kind: 'sun', behindH: 2, discDeg: 1.1, colorK: 3400, illuminanceLux: 30_000 },
  moon: { kind: 'moon', behindH: 9, discDeg: 0.8, colorK: 5200, illuminanceLux: 0.1 },
};

/** Further suns and moons of exotic worlds. The main sun stays the one that the cues hold and that is baked. */
export const OthersSection = memo(function OthersSection({ others, changeRig }: { others: OtherBody[]; changeRig: ChangeRig }) {
  const add = (kind: OtherBody['kind']) => {
    const n = others.filter((o) => o.kind === kind).length + 2;
    const ids = new Set(others.map((o) => o.id));
    const id = [...Array(9).keys()].map((i) => `${kind}-${i + 2}`).find((free) => !ids.has(free))!;
    changeRig(`A ${kind} more`, (r) => void r.day.others.push({ ...PRESETS[kind], id, name: `${kind === 'sun' ? 'Sun' : 'Moon'} ${n}` }));
  };
  return (
    <Section title="Further suns and moons" note={others.length === 0 ? 'none' : String(others.length)} rare>
      {others.map((body) => (
        <div key={body.id}>
          <ActionRow
            label={body.name}
            action="take away"
            onClick={() => changeRig(`${body.name} taken away`, (r) => void (r.day.others = r.day.others.filter((o) => o.id !== body.id)))}
          />
          {ROWS.map(({ key, label, hint, quantity }) => (
            <NumberRow
              key={key}
              label={label}
              value={body[key]}
              preset={PRESETS[body.kind][key]}
              quantity={quantity}
              hint={hint}
              onChange={(v) =>
                changeRig(
                  `${body.name}: ${label.toLowerCase()} ${quantity.format(v)} ${quantity.unit}`,
                  (r) => void (r.day.others.find((o) => o.id === body.id)![key] = v),
                  `${body.id} ${key}`,
                )
              }
            />
          ))}
        </div>
      ))}
      <div className={styles.actions}>
        <Button size="small" disabled={others.length >= 4} onClick={() => add('sun')}>
          Add a sun
        </Button>
        <Button size="small" disabled={others.length >= 4} onClick={() => add('moon')}>
          Add a moon
        </Button>
      </div>
    </Section>
  );
});
