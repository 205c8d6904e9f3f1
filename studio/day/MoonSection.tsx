import { memo } from 'react';
import { holdBody, releaseBody, type Cue, type Moon } from '../../core/rig';
import { visibleDisc } from '../../core/sky';
import { KELVIN_RANGE } from '../../core/units';
import { NumberRow } from '../desk/NumberRow';
import { kelvin, linear, logarithmic, readable, type Quantity } from '../desk/quantity';
import { Section } from '../desk/Section';
import type { ChangeRig } from '../state/useRigEdit';

const ROWS: { key: keyof Moon; label: string; quantity: Quantity; hint: string }[] = [
  { key: 'azimuthDeg', label: 'Azimuth', quantity: linear('°', 0, 360, 0.5, 1, 360), hint: 'Clockwise from north' },
  {
    key: 'elevationDeg',
    label: 'Elevation',
    quantity: linear('°', -20, 90, 0.5, 1),
    hint: 'Above the horizon; below it the moon lights nothing',
  },
  {
    key: 'litShare',
    label: 'Phase',
    quantity: linear('', 0, 1, 0.01, 2),
    hint: 'Share that is lit: 0 new, 0.5 half, 1 full; its light follows',
  },
  {
    key: 'illuminanceLux',
    label: 'Strength',
    quantity: logarithmic('lx', 0.001, 1000, { zero: true }),
    hint: 'Its direct light on a plane that faces it: 0.02 half moon, 0.2 full moon, 2 for a night that reads',
  },
  {
    key: 'colorK',
    label: 'Colour',
    quantity: kelvin(KELVIN_RANGE[0], KELVIN_RANGE[1]),
    hint: 'Colour temperature; moonlight is about 4 150 K',
  },
  { key: 'discDeg', label: 'Disc', quantity: logarithmic('°', 0.05, 30), hint: 'Full angle of the disc; a larger one softens shadows' },
];

/** The moon of a cue: by the day, or by hand where the cue holds a value. */
export const MoonSection = memo(function MoonSection({ cue, moon, changeRig }: { cue: Cue; moon: Moon; changeRig: ChangeRig }) {
  const held: Partial<Moon> = cue.holds.moon ?? {};
  const count = Object.keys(held).length;
  const isUp = visibleDisc(moon.elevationDeg, moon.discDeg) > 0;
  const note = `${isUp ? `${readable(moon.illuminanceLux)} lx` : 'set'}${count > 0 ? `, holds ${count} of ${ROWS.length}` : ''}`;
  return (
    <Section title="Moon" note={note} rare={!isUp && count === 0}>
      {ROWS.map(({ key, label, quantity, hint }) => (
        <NumberRow
          key={key}
          label={label}
          value={moon[key]}
          preset={moon[key]}
          held={{
            is: held[key] !== undefined,
            release: () =>
              changeRig(`${cue.name}: ${label.toLowerCase()} of the moon by the day`, (r) => releaseBody(r, cue.id, 'moon', key)),
          }}
          quantity={quantity}
          hint={hint}
          onChange={(v) =>
            changeRig(
              `${cue.name}: moon ${label.toLowerCase()} ${quantity.format(v)} ${quantity.unit}`.trimEnd(),
              (r) => holdBody(r, cue.id, 'moon', { [key]: v }),
              `${cue.id} moon ${key}`,
            )
          }
        />
      ))}
    </Section>
  );
});
