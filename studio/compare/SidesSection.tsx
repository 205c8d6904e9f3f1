'use client';

import { Button, Select } from 'antd';
import { useEffect, useId } from 'react';
import { askedAt, madeBy } from '../bake/KeptBakesSection';
import { useKeptBakes, useShown } from '../bake/shownBake';
import { PickRow } from '../desk/PickRow';
import { Section } from '../desk/Section';
import { Toggle } from '../desk/Toggle';
import { clock } from '../desk/quantity';
import { useStudio } from '../state/context';
import { setSide, swapSides, useCompare, type SideOf } from './compareStore';
import styles from './compare.module.css';

/**
 * Which two lights are compared, and by which bakes.
 *
 * @param newest id of the newest bake
 */
export function SidesSection({ newest }: { newest: string | null }) {
  return (
    <Section
      title="Sides"
      aside={
        <Button size="small" type="text" onClick={swapSides}>
          Swap
        </Button>
      }
    >
      <SideRow side={0} name="A" />
      <SideRow side={1} name="B" />
      <BakeRows newest={newest} />
    </Section>
  );
}

/** Which bake lights each side, where several are kept that are laid out as the one that is shown. */
function BakeRows({ newest }: { newest: string | null }) {
  const projectId = useStudio((s) => s.project.id);
  const { data } = useKeptBakes(projectId, newest);
  const lookedAt = useShown((s) => s.lookedAt);
  const sides = useCompare((s) => s.sides);
  const shown = data?.bakes.find((b) => b.id === (lookedAt?.id ?? newest));
  const others = data?.bakes.filter((b) => shown && b.id !== shown.id && b.levelHash === shown.levelHash) ?? [];
  const gone = sides.map(({ bakeId }) => data !== undefined && bakeId !== null && !others.some((b) => b.id === bakeId));
  useEffect(() => gone.forEach((is, side) => is && setSide(side as 0 | 1, { bakeId: null })));
  if (!shown || others.length === 0) return null;
  const options = [
    { value: '', label: 'the bake that is shown' },
    ...others.map((b) => ({ value: b.id, label: `${madeBy(b)}, ${askedAt(b)}` })),
  ];
  return sides.map(({ bakeId }, side) => (
    <PickRow
      key={side}
      as="list"
      label={`${side === 0 ? 'A' : 'B'} is lit by`}
      value={bakeId ?? ''}
      options={options}
      onChange={(id) => setSide(side as 0 | 1, { bakeId: id || null })}
    />
  ));
}

const HOURS = Array.from({ length: 24 }, (_, hour) => hour);
const keyOf = (light: SideOf) =>
  light.of === 'cue' ? `cue ${light.cueId}` : light.of === 'hour' ? `hour ${light.hour}` : light.of === 'kept' ? `kept ${light.id}` : 'now';

function SideRow({ side, name }: { side: 0 | 1; name: 'A' | 'B' }) {
  const { light, ungraded, live } = useCompare((s) => s.sides[side]);
  const kept = useCompare((s) => s.kept);
  const cues = useStudio((s) => s.rig.cues);
  const id = useId();
  const lights: { key: string; label: string; light: SideOf }[] = [
    { key: 'now', label: 'What is shown', light: { of: 'now' } },
    ...cues.map((c): (typeof lights)[number] => ({ key: `cue ${c.id}`, label: c.name, light: { of: 'cue', cueId: c.id } })),
    ...kept.map((k): (typeof lights)[number] => ({ key: `kept ${k.id}`, label: k.name, light: { of: 'kept', id: k.id } })),
    ...HOURS.map((hour): (typeof lights)[number] => ({ key: `hour ${hour}`, label: clock(hour), light: { of: 'hour', hour } })),
  ];
  return (
    <div className={styles.side}>
      <b id={id}>{name}</b>
      <Select
        size="small"
        aria-label={`Light of ${name}`}
        value={keyOf(light)}
        options={lights.map(({ key, label }) => ({ value: key, label }))}
        showSearch={{ optionFilterProp: 'label' }}
        onChange={(key) => {
          const chosen = lights.find((l) => l.key === key);
          if (chosen) setSide(side, { light: chosen.light });
        }}
      />
      <Toggle on={ungraded} mark="ungraded" label={`${name} without its grade`} onClick={() => setSide(side, { ungraded: !ungraded })} />
      <Toggle on={live} mark="live" label={`${name} by live light alone`} onClick={() => setSide(side, { live: !live })} />
    </div>
  );
}
