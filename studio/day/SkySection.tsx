import { memo, useState } from 'react';
import { DEFAULT_BANDS, type Bands, type Cue, type Lighting } from '../../core/rig';
import { TrimRow } from '../bake/TrimRow';
import { ColorRow } from '../desk/ColorRow';
import { ActionRow } from '../desk/ActionRow';
import { PickRow } from '../desk/PickRow';
import { NumberRow } from '../desk/NumberRow';
import { linear, logarithmic } from '../desk/quantity';
import { Section } from '../desk/Section';
import type { useSkyShelf } from '../skies/useSkyShelf';
import { FacingRows } from './FacingRows';
import type { ChangeCue } from '../state/useRigEdit';
import { ImageRows } from './ImageRows';

const BANDS = ['zenith', 'middle', 'horizon', 'ground'] as const;
const SOFTNESS = linear('', 0, 1, 0.01, 2);
const LUMINANCE = logarithmic('cd/m²', 0.0001, 100_000, { zero: true });

type Making = 'air' | 'bands' | 'image';
const NOTES: Record<Making, string> = { air: 'the air', bands: 'painted, held', image: 'an image, held' };

interface Props {
  cue: Cue;
  lighting: Lighting;
  shelf: ReturnType<typeof useSkyShelf>;
  change: ChangeCue;
  onFiles(files: File[]): void;
}

/** The sky of the cue: the air of the day, painted by hand, or an image of the shelf. */
export const SkySection = memo(function SkySection({ cue, lighting, shelf, change, onFiles }: Props) {
  const { sky: bands, image } = cue.holds;
  // Chosen here, and held once an image is.
  const [wantsImage, setWantsImage] = useState(false);
  const making: Making = bands ? 'bands' : image || wantsImage ? 'image' : 'air';
  const make = (kind: Making) => {
    setWantsImage(kind === 'image');
    if (kind === 'image' && !image && !bands) return;
    change(kind === 'bands' ? 'painted sky' : 'sky by the air', (c) => {
      delete c.holds.image;
      delete c.holds.sky;
      if (kind === 'bands') c.holds.sky = structuredClone(DEFAULT_BANDS);
    });
  };
  return (
    <Section title="Sky" note={NOTES[making]}>
      <PickRow
        label="Sky from"
        value={making}
        options={[
          { value: 'air', label: 'Air', title: 'Computed from the air, the sun and the hour' },
          { value: 'bands', label: 'Gradient', title: 'Painted by hand, in bands' },
          { value: 'image', label: 'Image' },
        ]}
        onChange={(kind) => make(kind as Making)}
      />
      {bands && (
        <>
          {BANDS.map((band) => (
            <BandRows key={band} band={band} bands={bands} change={change} />
          ))}
          <NumberRow
            label="Softness"
            value={bands.softness ?? 1}
            preset={1}
            quantity={SOFTNESS}
            hint="1 goes over evenly from band to band, 0 by hard edges"
            onChange={(v) => change(`softness ${SOFTNESS.format(v)}`, (c) => void (c.holds.sky!.softness = v), 'softness')}
          />
          <FacingRows facing={bands.facing} lighting={lighting} change={change} />
        </>
      )}
      {making === 'image' && <ImageRows cue={cue} shelf={shelf} lighting={lighting} change={change} onFiles={onFiles} />}
      <TrimRow stem="sky" label="Sky’s strength" />
      <TrimRow stem="skyBounce" label="Its bounce" />
    </Section>
  );
});

function BandRows({ band, bands, change }: { band: (typeof BANDS)[number]; bands: Bands; change: ChangeCue }) {
  const name = band[0]!.toUpperCase() + band.slice(1);
  const held = bands[band];
  if (!held) {
    return (
      <ActionRow
        label={name}
        action="give it a band"
        onClick={() => change('middle band', (c) => void (c.holds.sky!.middle = { ...bands.horizon }))}
      />
    );
  }
  const preset = DEFAULT_BANDS[band] ?? DEFAULT_BANDS.horizon;
  return (
    <>
      <ColorRow
        label={name}
        value={held.color}
        preset={preset.color}
        onChange={(hex) => change(`${band} ${hex}`, (c) => void (c.holds.sky![band]!.color = hex), `${band} color`)}
      />
      <NumberRow
        label={`${name} light`}
        value={held.luminanceCdM2}
        preset={preset.luminanceCdM2}
        quantity={LUMINANCE}
        hint="Luminance of the band; its colour gives the hue alone"
        onChange={(v) =>
          change(`${band} ${LUMINANCE.format(v)} cd/m²`, (c) => void (c.holds.sky![band]!.luminanceCdM2 = v), `${band} light`)
        }
      />
    </>
  );
}
