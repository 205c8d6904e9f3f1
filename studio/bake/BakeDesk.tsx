'use client';

import { Button, Select } from 'antd';
import type { Draft } from 'immer';
import { COMPACT, QUALITIES, SKY_BOUNCE_KEY, stemParts } from '../../core/bake';
import { type BakeQuality, type BakeSettings, type Rig } from '../../core/rig';
import { linear, logarithmic } from '../desk/quantity';
import { PickRow } from '../desk/PickRow';
import { Section } from '../desk/Section';
import { SwitchRow } from '../desk/SwitchRow';
import { ChosenObjects } from '../objects/ChosenObjects';
import { useStudio, useStudioStore } from '../state/context';
import { BakeNumber } from './BakeNumber';
import { BakeProgress } from './BakeProgress';
import { changeSince } from './changeSince';
import { CoresRow } from './CoresRow';
import { DensityProposal } from './DensityProposal';
import { DensitySection } from './DensitySection';
import { FailedBake } from './FailedBake';
import { KeptBakesSection } from './KeptBakesSection';
import { LevelSection } from './LevelSection';
import { RolesSection } from './RolesSection';
import { ForeseenSection } from './ForeseenSection';
import { MixSection } from './MixSection';
import { OpeningsSection, openText } from './OpeningsSection';
import { NoiseSection } from './NoiseSection';
import { ShowSection } from './ShowSection';
import type { BakeControl } from './useBakeControl';
import desk from '../desk/desk.module.css';
import styles from './bake.module.css';

const DENSITY = logarithmic('tx/m', 0.25, 64, { digits: 2 });
const BOUNCES = linear('', 0, 64, 1, 0);
const LABELS: Record<BakeQuality, string> = { rough: 'Rough', fair: 'Fair', fine: 'Fine' };
const QUALITY_OPTIONS = (Object.keys(QUALITIES) as BakeQuality[]).map((value) => {
  const { paths, noise, most } = QUALITIES[value];
  return {
    value,
    label: LABELS[value],
    title: `Down to ${Math.round(noise * 100)} % noise before filtering: ${paths} to ${paths * most} paths from each texel`,
  };
});

/** The desk of the Bake room: the mix of what is baked, what is baked and how finely, and how it stands. */
export function BakeDesk({ control }: { control: BakeControl }) {
  const bake = useStudio((s) => s.rig.bake);
  const store = useStudioStore();
  const { done, atWork } = control.bakes;

  const set = <K extends keyof BakeSettings>(key: K, value: BakeSettings[K], label: string) =>
    store.getState().edit(`Bake: ${label}`, (r: Draft<Rig>) => void (r.bake[key] = value), `bake ${key}`);

  return (
    <>
      <StandingSection control={control} />
      <MixSection isApart={(done ?? atWork)?.maps.every((m) => SKY_BOUNCE_KEY in m.parts || `${COMPACT}sky` in m.parts) ?? true} />
      <ShowSection baked={done !== null || (atWork?.maps.length ?? 0) > 0} />
      <BakedObjects control={control} />
      <OpeningsSection control={control} />
      <Section title="Light paths" note={`down to ${Math.round(QUALITIES[bake.quality].noise * 100)} % noise`}>
        <PickRow
          label="Quality"
          value={bake.quality}
          options={QUALITY_OPTIONS}
          onChange={(v) => set('quality', v as BakeQuality, `${v} quality`)}
        />
        <BakeNumber
          of="bounces"
          label="Bounces"
          quantity={BOUNCES}
          hint="Most bounces that are followed; paths that carry little end by themselves"
          said={(v) => `${v} bounces`}
        />
        <CoresRow of="used" label="Cores" />
      </Section>
      <Section title="Lightmaps">
        <BakeNumber of="texelsPerM" label="Density" quantity={DENSITY} hint="Lightmap texels per metre" said={(v) => `${v} texels/m`} />
        <div className={desk.pick}>
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
        <DensitySection />
      </Section>
      <DensityProposal />
      <RolesSection />
      <ForeseenSection />
      {done?.noise && <NoiseSection bake={done} noise={done.noise} />}
      <KeptBakesSection newest={done?.id ?? null} />
      <LevelSection />
    </>
  );
}

/** The chosen objects, which can be baked alone where a bake lies under them. */
function BakedObjects({ control }: { control: BakeControl }) {
  const rig = useStudio((s) => s.rig);
  const { atWork, done } = control.bakes;
  const canBeAlone = done !== null && atWork === null && changeSince(done, rig).some;
  return <ChosenObjects edits bakeAlone={canBeAlone ? (only) => control.start({ only }) : undefined} />;
}

/** How the bake stands: at work, fresh, or stale by what, and what can be done about it. */
function StandingSection({ control }: { control: BakeControl }) {
  const rig = useStudio((s) => s.rig);
  const { atWork, done, failed } = control.bakes;
  if (atWork) {
    const all = stemParts(atWork.plan).length;
    const some = atWork.open
      ? `${openText(atWork.open)} open`
      : atWork.only && (atWork.only.length === 1 ? atWork.only[0]! : `${atWork.only.length} objects`);
    const part =
      atWork.state === 'paused' ? 'paused' : (some ?? (atWork.traced.length < all ? `${atWork.traced.length} of ${all} stems` : 'at work'));
    return (
      <Section title="Bake" note={part}>
        <BakeProgress bake={atWork} control={control} />
        <KeepBakingRow control={control} />
      </Section>
    );
  }
  const change = done && changeSince(done, rig);
  const reasons = change?.reasons ?? [];
  const all = change ? stemParts(change.plan).length : 0;
  return (
    <Section title="Bake" note={failed ? 'failed' : !done ? 'nothing baked yet' : reasons.length > 0 ? 'out of date' : 'up to date'}>
      {failed && <FailedBake bake={failed} control={control} />}
      {!done && <p className={desk.text}>The picture shows live sun and unshadowed sky. A bake adds shadowed sky and bounced light.</p>}
      {reasons.length > 0 && (
        <>
          <ul className={styles.stale} aria-label="Why the bake is out of date">
            {reasons.map((reason) => (
              <li key={reason}>{reason[0]!.toUpperCase() + reason.slice(1)}</li>
            ))}
          </ul>
          <p className={desk.text}>
            {change!.trace.only
              ? `${change!.trace.only.length === 1 ? 'It alone is' : 'They alone are'} traced: the rest keeps its light, also where ${change!.trace.only.length === 1 ? 'it stands' : 'they stand'} in its way. Bake everything to have that too.`
              : change!.stale.length < all
                ? `${change!.stale.length} of ${all} stems ${change!.stale.length === 1 ? 'has' : 'have'} to be traced; the others are kept.`
                : 'All stems have to be traced.'}
          </p>
        </>
      )}
      {done && reasons.length === 0 && (
        <p className={desk.text}>
          Strength and colour of the suns, the sky, the mix and the exposure stay free: they never need another bake.
        </p>
      )}
      <div className={desk.actions}>
        {(!done || reasons.length > 0) && (
          <Button type={failed && failed.kept > 0 ? 'default' : 'primary'} onClick={() => control.start()} loading={control.starting}>
            {done ? 'Bake what changed' : 'Bake'}
          </Button>
        )}
        {done && (
          <Button onClick={() => control.start({ whole: true })} loading={control.starting}>
            Bake everything
          </Button>
        )}
      </div>
      <KeepBakingRow control={control} />
    </Section>
  );
}

/** Whether what is out of date is traced without being asked for. */
function KeepBakingRow({ control }: { control: BakeControl }) {
  const on = control.bakes.keepsBaking;
  return (
    <>
      <SwitchRow label="Keep baking" on={on} onChange={control.keepBaking} />
      {on && (
        <>
          <CoresRow of="byItself" label="Cores it takes" />
          <p className={desk.text}>After a pause in editing what is out of date is traced at rough, until the next edit.</p>
        </>
      )}
    </>
  );
}
