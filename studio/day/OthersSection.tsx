import { Button } from 'antd';
import { memo } from 'react';
import { DEFAULT_DAY, PLAIN_LOOK, setOther, type BodyPath, type OtherBody } from '../../core/rig';
import { KELVIN_RANGE } from '../../core/units';
import { ActionRow } from '../desk/ActionRow';
import { NumberRow } from '../desk/NumberRow';
import { PickRow } from '../desk/PickRow';
import { hourOfDay, kelvin, linear, logarithmic, type Quantity } from '../desk/quantity';
import { Section } from '../desk/Section';
import type { ChangeRig } from '../state/useRigEdit';
import { LookRows } from './LookRows';
import styles from '../desk/desk.module.css';

interface Row<K> {
  key: K;
  label: string;
  hint: string;
  quantity: Quantity;
}
const LIGHT: Row<'illuminanceLux' | 'colorK' | 'discDeg'>[] = [
  {
    key: 'illuminanceLux',
    label: 'Strength',
    hint: 'Above the air, on a plane that faces it',
    quantity: logarithmic('lx', 0.001, 200_000, { zero: true }),
  },
  { key: 'colorK', label: 'Colour', hint: 'Colour temperature', quantity: kelvin(KELVIN_RANGE[0], KELVIN_RANGE[1]) },
  { key: 'discDeg', label: 'Disc', hint: 'Full angle of the disc', quantity: logarithmic('°', 0.05, 30) },
];
const AZIMUTH = linear('°', 0, 360, 0.5, 1, 360);
const HEIGHT = linear('°', -90, 90, 0.5, 1);
/** The numbers of each kind of path. */
const PATHS: { [K in BodyPath['by']]: Row<string>[] } = {
  behind: [{ key: 'behindH', label: 'Behind', hint: 'Hours behind the main sun, on its path', quantity: linear('h', -12, 12, 0.25, 2) }],
  own: [
    { key: 'riseH', label: 'Rises', hint: 'Hour at which it rises', quantity: hourOfDay },
    { key: 'highestH', label: 'Highest', hint: 'Hour at which it stands highest', quantity: hourOfDay },
    { key: 'setH', label: 'Sets', hint: 'Hour at which it sets', quantity: hourOfDay },
    { key: 'highestDeg', label: 'Height', hint: 'Elevation at which it stands highest', quantity: HEIGHT },
    { key: 'bearingDeg', label: 'Bearing', hint: 'Azimuth at which it stands highest', quantity: AZIMUTH },
  ],
  still: [
    { key: 'azimuthDeg', label: 'Azimuth', hint: 'Clockwise from north', quantity: AZIMUTH },
    { key: 'elevationDeg', label: 'Elevation', hint: 'Above the horizon', quantity: HEIGHT },
  ],
};
const FIRST: { [K in BodyPath['by']]: Extract<BodyPath, { by: K }> } = {
  behind: { by: 'behind', behindH: 2 },
  own: { by: 'own', drawn: DEFAULT_DAY.drawn },
  still: { by: 'still', azimuthDeg: 180, elevationDeg: 30 },
};

const PRESETS: Record<OtherBody['kind'], Omit<OtherBody, 'id' | 'name'>> = {
  sun: { kind: 'sun', path: FIRST.behind, discDeg: 1.1, colorK: 3400, illuminanceLux: 30_000 },
  moon: { kind: 'moon', path: { by: 'behind', behindH: 9 }, discDeg: 0.8, colorK: 5200, illuminanceLux: 0.1 },
};

const numbersOf = (path: BodyPath): Record<string, number> =>
  path.by === 'own' ? { ...path.drawn } : (path as unknown as Record<string, number>);
const withNumber = (path: BodyPath, key: string, value: number): BodyPath =>
  path.by === 'own' ? { ...path, drawn: { ...path.drawn, [key]: value } } : ({ ...path, [key]: value } as BodyPath);

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
      {others.map((body) => {
        const set = (change: Partial<OtherBody>, what: string, key: string) =>
          changeRig(`${body.name}: ${what}`, (r) => setOther(r, body.id, change), `${body.id} ${key}`);
        return (
          <div key={body.id}>
            <ActionRow
              label={body.name}
              action="remove"
              onClick={() =>
                changeRig(`${body.name} taken away`, (r) => void (r.day.others = r.day.others.filter((o) => o.id !== body.id)))
              }
            />
            <PickRow
              label="Path"
              value={body.path.by}
              options={[
                { value: 'behind', label: 'The sun’s' },
                { value: 'own', label: 'Its own' },
                { value: 'still', label: 'Stands' },
              ]}
              onChange={(by) => set({ path: FIRST[by] }, `path ${by}`, 'path')}
            />
            {PATHS[body.path.by].map(({ key, label, hint, quantity }) => (
              <NumberRow
                key={key}
                label={label}
                value={numbersOf(body.path)[key]!}
                preset={numbersOf(FIRST[body.path.by])[key]!}
                quantity={quantity}
                hint={hint}
                onChange={(v) =>
                  set({ path: withNumber(body.path, key, v) }, `${label.toLowerCase()} ${quantity.format(v)} ${quantity.unit}`, key)
                }
              />
            ))}
            {LIGHT.map(({ key, label, hint, quantity }) => (
              <NumberRow
                key={key}
                label={label}
                value={body[key]}
                preset={PRESETS[body.kind][key]}
                quantity={quantity}
                hint={hint}
                onChange={(v) => set({ [key]: v }, `${label.toLowerCase()} ${quantity.format(v)} ${quantity.unit}`, key)}
              />
            ))}
            <LookRows
              name={body.name}
              look={{ ...PLAIN_LOOK, ...body.look }}
              discDeg={body.discDeg}
              set={(fields, what, key) => set({ look: { ...body.look, ...fields } }, what, key)}
            />
          </div>
        );
      })}
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
