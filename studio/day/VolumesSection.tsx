import { Button } from 'antd';
import { memo } from 'react';
import { DEFAULT_VOLUME, removeVolume, setVolume, setVolumeLevel, type Cue, type FogVolume } from '../../core/rig';
import { ActionRow } from '../desk/ActionRow';
import { ColorRow } from '../desk/ColorRow';
import { NumberRow } from '../desk/NumberRow';
import { PickRow } from '../desk/PickRow';
import { linear, logarithmic, type Quantity } from '../desk/quantity';
import { Section } from '../desk/Section';
import type { ChangeRig } from '../state/useRigEdit';
import { useView } from '../viewport/viewStore';
import styles from '../desk/desk.module.css';

const PLACE = linear('m', -500, 500, 0.1, 2);
const SIZE = logarithmic('m', 0.05, 500, { digits: 3 });
const VISIBILITY = logarithmic('m', 0.5, 500, { digits: 2 });
const SHARE = linear('', 0, 1, 0.01, 2);
const LEVEL = logarithmic('×', 0.05, 8, { zero: true, digits: 2 });
const AXES = ['Across', 'Up', 'Along'] as const;

interface Props {
  volumes: readonly FogVolume[];
  cue: Cue;
  changeRig: ChangeRig;
}

/** Bodies of fog of their own: where they lie, how large and how thick they are, and how thick in this cue. */
export const VolumesSection = memo(function VolumesSection({ volumes, cue, changeRig }: Props) {
  const add = () => {
    const at = useView.getState().vantage?.().target ?? [0, 1, 0];
    const free = (n: number): number => (volumes.some((v) => v.id === `fog-${n}` || v.name === `Steam ${n}`) ? free(n + 1) : n);
    const n = free(1);
    changeRig(
      `Steam ${n} brought in`,
      (r) => void r.volumes.push({ ...structuredClone(DEFAULT_VOLUME), id: `fog-${n}`, name: `Steam ${n}`, at: [...at] }),
    );
  };
  return (
    <Section title="Fog volumes" note={volumes.length > 0 ? String(volumes.length) : 'none'} rare={volumes.length === 0}>
      {volumes.map((volume) => (
        <VolumeRows key={volume.id} volume={volume} cue={cue} changeRig={changeRig} />
      ))}
      <div className={styles.actions}>
        <Button size="small" disabled={volumes.length >= 8} onClick={add}>
          Add one where I look
        </Button>
      </div>
    </Section>
  );
});

function VolumeRows({ volume, cue, changeRig }: { volume: FogVolume; cue: Cue; changeRig: ChangeRig }) {
  const { id, name, shape, at } = volume;
  const edit = (change: Partial<FogVolume>, what: string, key: string) =>
    changeRig(`${name}: ${what}`, (r) => setVolume(r, id, change), `volume ${id} ${key}`);
  const number = (
    label: string,
    value: number,
    quantity: Quantity,
    preset: number,
    change: (v: number) => Partial<FogVolume>,
    hint?: string,
  ) => (
    <NumberRow
      key={label}
      label={label}
      value={value}
      preset={preset}
      quantity={quantity}
      hint={hint}
      onChange={(v) => edit(change(v), `${label.toLowerCase()} ${quantity.format(v)} ${quantity.unit}`.trimEnd(), label)}
    />
  );
  const swapped = <T extends number[]>(list: T, i: number, v: number): T => list.map((old, k) => (k === i ? v : old)) as T;
  return (
    <>
      <ActionRow label={<b>{name}</b>} action="remove" onClick={() => changeRig(`${name} taken away`, (r) => removeVolume(r, id))} />
      <NumberRow
        label="In this cue"
        value={cue.holds.volumes?.[id] ?? 1}
        preset={1}
        quantity={LEVEL}
        hint="How thick it is in this cue: 0 not there, 1 as it is"
        onChange={(v) =>
          changeRig(`${cue.name}: ${name} × ${LEVEL.format(v)}`, (r) => setVolumeLevel(r, cue.id, id, v), `volume ${cue.id} ${id}`)
        }
      />
      {number(
        'Visibility',
        volume.visibilityM,
        VISIBILITY,
        DEFAULT_VOLUME.visibilityM,
        (visibilityM) => ({ visibilityM }),
        'How far one sees in its middle: 2 m steam, 20 m smoke, 100 m dust',
      )}
      {number(
        'Soft edge',
        volume.softness,
        SHARE,
        DEFAULT_VOLUME.softness,
        (softness) => ({ softness }),
        'Share of the way to its edge over which it thins out',
      )}
      <ColorRow
        label="Colour"
        value={volume.color}
        preset={DEFAULT_VOLUME.color}
        onChange={(color) => edit({ color }, `colour ${color}`, 'color')}
      />
      <PickRow
        label="Shape"
        value={shape.kind}
        options={[
          { value: 'ball', label: 'Ball' },
          { value: 'box', label: 'Box' },
        ]}
        onChange={(kind) =>
          edit({ shape: kind === 'ball' ? { kind, radiusM: 2 } : { kind, sizeM: [4, 2, 4], turnDeg: 0 } }, `a ${kind}`, 'shape')
        }
      />
      {shape.kind === 'ball'
        ? number('Radius', shape.radiusM, SIZE, 2, (radiusM) => ({ shape: { ...shape, radiusM } }))
        : AXES.map((axis, i) =>
            number(`${axis}, size`, shape.sizeM[i]!, SIZE, shape.sizeM[i]!, (v) => ({
              shape: { ...shape, sizeM: swapped(shape.sizeM, i, v) },
            })),
          )}
      {AXES.map((axis, i) => number(`${axis}, middle`, at[i]!, PLACE, at[i]!, (v) => ({ at: swapped(at, i, v) })))}
    </>
  );
}
