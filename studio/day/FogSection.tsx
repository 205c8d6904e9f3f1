import { Button } from 'antd';
import { memo } from 'react';
import { distanceSeen, visibilityWord } from '../../core/fog';
import { NO_FOG, type Cue, type FogSetting, type Lighting } from '../../core/rig';
import { ColorRow } from '../desk/ColorRow';
import { HolderRow } from '../desk/HolderRow';
import { NumberRow } from '../desk/NumberRow';
import { linear, logarithmic, readable, type Quantity } from '../desk/quantity';
import { Section } from '../desk/Section';
import { useHeldPart } from '../desk/useHeldPart';
import type { ChangeRig } from '../state/useRigEdit';
import day from './day.module.css';
import styles from '../desk/desk.module.css';

type NumberKey = 'visibilityM' | 'baseM' | 'fallOffM' | 'startM' | 'mostHidden' | 'forward' | 'overSky' | 'aerial';

interface FogRow {
  key: NumberKey;
  label: string;
  hint: string;
  quantity: Quantity;
  /** The number that stands for what is stored as null. */
  none?: number;
}

const VISIBILITY = logarithmic('m', 5, 50_000, { digits: 2 });
const FALL_OFF = logarithmic('m', 1, 10_000, { digits: 2 });
const SHARE = linear('', 0, 1, 0.01, 2);

const AERIAL: FogRow = {
  key: 'aerial',
  label: 'Aerial haze',
  hint: 'How much of the air’s own haze lies over what is far away',
  quantity: SHARE,
};
const ROWS: FogRow[] = [
  {
    key: 'visibilityM',
    label: 'Visibility',
    hint: '50 m thick fog, 500 m fog, 1.5 km mist, 4 km haze, 20 km clear, 50 km very clear',
    quantity: VISIBILITY,
  },
  { key: 'baseM', label: 'Base', hint: 'Height in the level up to which it is thickest', quantity: linear('m', -50, 200, 0.5, 1) },
  {
    key: 'fallOffM',
    label: 'Thins over',
    hint: 'Height over which it thins to a third; 2 m ground fog, 60 m a bank, 10 km as thick at all heights',
    quantity: FALL_OFF,
    none: 10_000,
  },
  { key: 'startM', label: 'Begins at', hint: 'Distance from the eye before which there is none', quantity: linear('m', 0, 200, 1, 0) },
  { key: 'mostHidden', label: 'Most hidden', hint: 'The most that it hides of what is far away', quantity: SHARE },
  {
    key: 'forward',
    label: 'Forward scatter',
    hint: 'How far on it sends light: the glow towards the sun. 0 evenly, 0.8 fog, 0.9 mist of large drops',
    quantity: linear('', -0.9, 0.95, 0.01, 2),
  },
  { key: 'overSky', label: 'Over the sky', hint: 'How far it covers the sky behind', quantity: SHARE },
];

interface Props {
  cue: Cue;
  rigFog: FogSetting;
  lighting: Lighting;
  changeRig: ChangeRig;
}

/** Fog of the cue or the day: how far one sees, where it lies, and what it is like. */
export const FogSection = memo(function FogSection({ cue, rigFog, lighting, changeRig }: Props) {
  const { values: fog, isHeld, edit, held, releaseAll } = useHeldPart('fog', cue, rigFog, changeRig);
  const now = lighting.fog?.fog;
  const isFoggy = now !== undefined && now.visibilityM !== Infinity;
  const note = isFoggy ? `${visibilityWord(now.visibilityM)}, ${readable(now.visibilityM)} m${cue.holds.fog ? ', held' : ''}` : 'none';
  const row = ({ key, label, hint, quantity, none }: FogRow) => {
    const value = fog[key] ?? none ?? quantity.max;
    return (
      <NumberRow
        key={key}
        label={label}
        value={value}
        preset={NO_FOG[key] ?? value}
        held={held(key, `${label} of the fog`)}
        quantity={quantity}
        hint={hint}
        onChange={(v) =>
          edit(
            { [key]: none !== undefined && v >= none ? null : v },
            `${label.toLowerCase()} ${quantity.format(v)} ${quantity.unit}`.trimEnd(),
            key,
          )
        }
      />
    );
  };

  return (
    <Section title="Fog" note={note}>
      <HolderRow />
      {fog.visibilityM === null ? (
        <div className={styles.actions}>
          <Button size="small" onClick={() => edit({ visibilityM: 600 }, 'brought in', 'bring')}>
            Add fog
          </Button>
        </div>
      ) : (
        <>
          {ROWS.map(row)}
          <ColorRow
            label="Colour"
            value={fog.color}
            preset={NO_FOG.color}
            onChange={(color) => edit({ color }, `colour ${color}`, 'color')}
          />
          {isFoggy && <p className={day.facts}>{reach(now)}</p>}
        </>
      )}
      {row(AERIAL)}
      {fog.visibilityM !== null && (
        <div className={styles.actions}>
          <Button size="small" onClick={() => edit({ visibilityM: null }, 'taken away', 'away')}>
            Remove it
          </Button>
          {isHeld && (
            <Button size="small" onClick={releaseAll}>
              As the day has it
            </Button>
          )}
        </div>
      )}
    </Section>
  );
});

/** How far one sees at eye height over the base. */
function reach(fog: NonNullable<Lighting['fog']>['fog']): string {
  const at = (share: number) => distanceSeen(fog, fog.baseM + 1.65, 0, share);
  const [half, end] = [at(0.5), at(0.02)];
  const last = end === Infinity ? 'something is always seen' : `nothing after ${readable(end)} m`;
  return `At eye height half of a thing is seen at ${half === Infinity ? 'all distances' : `${readable(half)} m`}, ${last}`;
}
