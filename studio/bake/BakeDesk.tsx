'use client';

import { Button, Select, Segmented } from 'antd';
import type { Draft } from 'immer';
import { staleReasons } from '../../core/bake';
import { DEFAULT_BAKE, type BakeQuality, type BakeSettings, type Rig } from '../../core/rig';
import { NumberRow } from '../desk/NumberRow';
import { grouped, linear, logarithmic } from '../desk/quantity';
import { Section } from '../desk/Section';
import { useStudio, useStudioStore } from '../state/context';
import { BakeProgress } from './BakeProgress';
import type { BakeControl } from './useBakeControl';
import styles from '../desk/desk.module.css';

const DENSITY = logarithmic('tx/m', 0.25, 64, { digits: 2 });
const BOUNCES = linear('', 0, 64, 1, 0);
const QUALITIES: { value: BakeQuality; label: string; title: string }[] = [
  { value: 'rough', label: 'Rough', title: '24 paths from each texel' },
  { value: 'fair', label: 'Fair', title: '64 paths from each texel' },
  { value: 'fine', label: 'Fine', title: '256 paths from each texel' },
];

/** The desk of the Bake room: what is baked, how finely, and how it stands. */
export function BakeDesk({ control }: { control: BakeControl }) {
  const bake = useStudio((s) => s.rig.bake);
  const rig = useStudio((s) => s.rig);
  const { summary, name } = useStudio((s) => s.level);
  const store = useStudioStore();
  const { atWork, done, failed } = control.bakes;
  const reasons = done ? staleReasons(done, rig) : [];

  const set = <K extends keyof BakeSettings>(key: K, value: BakeSettings[K], label: string) =>
    store.getState().edit(`Bake: ${label}`, (r: Draft<Rig>) => void (r.bake[key] = value), `bake ${key}`);

  return (
    <>
      <Section title="Bake" note={atWork ? 'at work' : done ? (reasons.length > 0 ? 'stale' : 'fresh') : 'nothing baked yet'}>
        {atWork ? (
          <BakeProgress bake={atWork} onCancel={control.cancel} />
        ) : (
          <>
            {failed && <p className={styles.fault}>{failed.error}</p>}
            {!done && (
              <p className={styles.text}>The picture shows live sun and unshadowed sky. A bake adds shadowed sky and bounced light.</p>
            )}
            {reasons.map((reason) => (
              <p key={reason} className={styles.text}>
                {reason[0]!.toUpperCase() + reason.slice(1)}.
              </p>
            ))}
            {done && reasons.length === 0 && (
              <p className={styles.text}>
                Strength and colour of the suns, the sky and the exposure stay free: they never need another bake.
              </p>
            )}
            <div className={styles.actions}>
              <Button type={done && reasons.length === 0 ? 'default' : 'primary'} onClick={control.start} loading={control.starting}>
                {done ? 'Bake again' : 'Bake'}
              </Button>
            </div>
          </>
        )}
      </Section>
      <Section title="Lightmaps">
        <NumberRow
          label="Density"
          value={bake.texelsPerM}
          preset={DEFAULT_BAKE.texelsPerM}
          quantity={DENSITY}
          hint="Lightmap texels per metre"
          onChange={(v) => set('texelsPerM', v, `${DENSITY.format(v)} texels/m`)}
        />
        <div className={styles.pick}>
          <span id="map-size">Largest map</span>
          <Select
            aria-labelledby="map-size"
            size="small"
            style={{ width: 100 }}
            value={bake.maxMapSize}
            options={[256, 512, 1024, 2048, 4096].map((value) => ({ value, label: `${value} tx` }))}
            onChange={(v) => set('maxMapSize', v, `maps up to ${v}`)}
          />
        </div>
      </Section>
      <Section title="Light paths">
        <div className={styles.pick}>
          <span>Quality</span>
          <Segmented
            size="small"
            value={bake.quality}
            options={QUALITIES}
            onChange={(v) => set('quality', v as BakeQuality, `${v} quality`)}
          />
        </div>
        <NumberRow
          label="Bounces"
          value={bake.bounces}
          preset={DEFAULT_BAKE.bounces}
          quantity={BOUNCES}
          hint="Most bounces that are followed; paths that carry little end by themselves"
          onChange={(v) => set('bounces', v, `${v} bounces`)}
        />
      </Section>
      <Section title="Level" note={name}>
        <dl className={styles.facts}>
          <dt>Objects</dt>
          <dd>{grouped(summary.objects)}</dd>
          <dt>Triangles</dt>
          <dd>{grouped(summary.triangles)}</dd>
          <dt>Surface</dt>
          <dd>{grouped(summary.areaM2)} m²</dd>
          <dt>Lightmaps</dt>
          <dd>{summary.lightmaps.maps.map((m) => `${m.width} × ${m.height}`).join(', ')}</dd>
          <dt>Second UVs</dt>
          <dd>{ORIGIN[summary.lightmaps.origin]}</dd>
        </dl>
        {summary.lightmaps.faults.slice(0, 6).map(({ object, fault }) => (
          <p key={object} className={styles.text}>
            {object}: its second UVs were {fault}, made anew.
          </p>
        ))}
      </Section>
    </>
  );
}

const ORIGIN = { file: 'the file’s own', packed: 'the file’s own, packed together', made: 'made here' } as const;
