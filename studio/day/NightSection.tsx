import { memo } from 'react';
import { CLEAR_NIGHT, type Cue, type Night } from '../../core/rig';
import { ColorRow } from '../desk/ColorRow';
import { HolderRow } from '../desk/HolderRow';
import { NumberRow } from '../desk/NumberRow';
import { linear, logarithmic, type Quantity } from '../desk/quantity';
import { Section } from '../desk/Section';
import { useHeldPart } from '../desk/useHeldPart';
import type { ChangeRig } from '../state/useRigEdit';

const ROWS: { key: 'glowCdM2' | 'starsEv' | 'skyEv'; label: string; quantity: Quantity; hint: string }[] = [
  {
    key: 'glowCdM2',
    label: 'Glow',
    quantity: logarithmic('cd/m²', 1e-5, 10, { zero: true, digits: 2 }),
    hint: 'Luminance of the moonless sky: 0.0002 clear country, 0.002 a town, 0.02 a city',
  },
  { key: 'starsEv', label: 'Stars', quantity: linear('EV', -12, 12, 0.25, 2), hint: 'Stops by which the stars are brighter' },
  {
    key: 'skyEv',
    label: 'Sky at night',
    quantity: linear('EV', -6, 12, 0.1, 1),
    hint: 'Stops by which the whole sky is brighter once the sun is down; moon and stars stay as they are',
  },
];

/** The moonless sky and the stars, of the cue or the day. */
export const NightSection = memo(function NightSection({ cue, rigNight, changeRig }: { cue: Cue; rigNight: Night; changeRig: ChangeRig }) {
  const { values: night, isHeld, edit, held } = useHeldPart('night', cue, rigNight, changeRig);
  return (
    <Section title="Night" note={isHeld ? 'held' : undefined} rare={!cue.holds.night}>
      <HolderRow />
      {ROWS.map(({ key, label, quantity, hint }) => (
        <NumberRow
          key={key}
          label={label}
          value={night[key]}
          preset={CLEAR_NIGHT[key]}
          held={held(key, label)}
          quantity={quantity}
          hint={hint}
          onChange={(v) => edit({ [key]: v }, `${label.toLowerCase()} ${quantity.format(v)} ${quantity.unit}`, key)}
        />
      ))}
      <ColorRow
        label="Glow’s colour"
        value={night.glowColor}
        preset={CLEAR_NIGHT.glowColor}
        onChange={(glowColor) => edit({ glowColor }, `glow ${glowColor}`, 'color')}
      />
    </Section>
  );
});
