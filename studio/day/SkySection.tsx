import { Segmented } from 'antd';
import { DEFAULT_BANDS, type Bands, type Cue } from '../../core/rig';
import { ColorRow } from '../desk/ColorRow';
import { NumberRow } from '../desk/NumberRow';
import { logarithmic } from '../desk/quantity';
import { Section } from '../desk/Section';
import type { ChangeCue } from './DayDesk';
import styles from '../desk/desk.module.css';

const LUMINANCE = logarithmic('cd/m²', 0.0001, 100_000, { zero: true });

/** The sky of the cue: the air of the day, or painted by hand. */
export function SkySection({ cue, locked, change }: { cue: Cue; locked: boolean; change: ChangeCue }) {
  const bands = cue.holds.sky;
  if (locked) return null;
  return (
    <Section title="Sky" note={bands ? 'painted, held' : 'the air'}>
      <div className={styles.pick}>
        <span>Made by</span>
        <Segmented
          size="small"
          value={bands ? 'bands' : 'air'}
          options={[
            { value: 'air', label: 'The air' },
            { value: 'bands', label: 'Paint' },
          ]}
          onChange={(kind) =>
            change(kind === 'bands' ? 'painted sky' : 'sky by the air', (c) => {
              if (kind === 'bands') c.holds.sky = structuredClone(DEFAULT_BANDS);
              else delete c.holds.sky;
            })
          }
        />
      </div>
      {bands && (['zenith', 'horizon', 'ground'] as const).map((band) => <BandRows key={band} band={band} bands={bands} change={change} />)}
    </Section>
  );
}

function BandRows({ band, bands, change }: { band: keyof Bands; bands: Bands; change: ChangeCue }) {
  const name = band[0]!.toUpperCase() + band.slice(1);
  return (
    <>
      <ColorRow
        label={name}
        value={bands[band].color}
        preset={DEFAULT_BANDS[band].color}
        onChange={(hex) => change(`${band} ${hex}`, (c) => void (c.holds.sky![band].color = hex), `${band} color`)}
      />
      <NumberRow
        label={`${name} light`}
        value={bands[band].luminanceCdM2}
        preset={DEFAULT_BANDS[band].luminanceCdM2}
        quantity={LUMINANCE}
        hint="Luminance of the band; its colour gives the hue alone"
        onChange={(v) =>
          change(`${band} ${LUMINANCE.format(v)} cd/m²`, (c) => void (c.holds.sky![band].luminanceCdM2 = v), `${band} light`)
        }
      />
    </>
  );
}
