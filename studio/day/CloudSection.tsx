import { Button } from 'antd';
import { DEFAULT_CLOUDS, type Cue, type Lighting } from '../../core/rig';
import type { Clouds } from '../../core/sky';
import { NumberRow } from '../desk/NumberRow';
import { linear, logarithmic, type Quantity } from '../desk/quantity';
import { Section } from '../desk/Section';
import type { ChangeCue } from '../state/useRigEdit';
import day from './day.module.css';
import styles from '../desk/desk.module.css';

const ROWS: { key: Exclude<keyof Clouds, 'seed'>; label: string; hint: string; quantity: Quantity }[] = [
  { key: 'cover', label: 'Cover', hint: 'Share of the sky that is clouded', quantity: linear('', 0, 1, 0.01, 2) },
  {
    key: 'thickness',
    label: 'Thickness',
    hint: 'Optical: 1 is a veil, 30 a heavy sky',
    quantity: logarithmic('', 0.1, 200, { zero: true, digits: 2 }),
  },
  { key: 'heightM', label: 'Cloud height', hint: 'Of the layer over the ground', quantity: logarithmic('m', 50, 20_000, { digits: 2 }) },
  { key: 'scaleM', label: 'Cloud size', hint: 'Of the larger clouds', quantity: logarithmic('m', 50, 50_000, { digits: 2 }) },
  {
    key: 'driftMps',
    label: 'Drift',
    hint: 'How fast the wind carries them',
    quantity: logarithmic('m/s', 0.1, 200, { zero: true, digits: 2 }),
  },
  { key: 'bearingDeg', label: 'Towards', hint: 'Azimuth that the wind blows to', quantity: linear('°', 0, 360, 1, 0, 360) },
];

/** The cue's clouds over the air: they dim the sun and make much of the sky's light. */
export function CloudSection({ cue, lighting, change }: { cue: Cue; lighting: Lighting; change: ChangeCue }) {
  const clouds = cue.holds.clouds;
  const isLaid = lighting.skyOverFog.some((p) => p.sky.kind === 'air' || p.sky.kind === 'clouded');
  return (
    <Section title="Clouds" note={clouds ? `${Math.round(clouds.cover * 100)} % cover, held` : 'none'} rare={!clouds}>
      {!clouds ? (
        <div className={styles.actions}>
          <Button size="small" onClick={() => change('clouds', (c) => void (c.holds.clouds = { ...DEFAULT_CLOUDS }))}>
            Add clouds
          </Button>
        </div>
      ) : (
        <>
          {ROWS.map(({ key, label, hint, quantity }) => (
            <NumberRow
              key={key}
              label={label}
              value={clouds[key]}
              preset={DEFAULT_CLOUDS[key]}
              quantity={quantity}
              hint={hint}
              onChange={(v) =>
                change(
                  `${label.toLowerCase()} ${quantity.format(v)} ${quantity.unit}`,
                  (c) => void (c.holds.clouds![key] = v),
                  `clouds ${key}`,
                )
              }
            />
          ))}
          <div className={styles.actions}>
            <Button size="small" onClick={() => change('other clouds', (c) => void (c.holds.clouds!.seed = (clouds.seed + 1) % 1_000_000))}>
              Other clouds
            </Button>
            <Button size="small" onClick={() => change('no clouds', (c) => void delete c.holds.clouds)}>
              Remove them
            </Button>
          </div>
          {!isLaid && <p className={day.facts}>This cue’s sky is an image, which has clouds of its own. These still dim its sun.</p>}
        </>
      )}
    </Section>
  );
}
