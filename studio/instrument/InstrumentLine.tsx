'use client';

import { ev100FromLuminance, percent } from '../../core/units';
import { lackingOpenings } from '../../core/bake';
import { changeSince } from '../bake/changeSince';
import { timeLeft } from '../bake/BakeProgress';
import type { BakeView } from '../../core/api';
import type { BakeControl } from '../bake/useBakeControl';
import { grouped, readable } from '../desk/quantity';
import { useStudio, useStudioStore } from '../state/context';
import { targetOf } from '../state/studioStore';
import { useMeter } from '../viewport/meter/meterStore';
import { hearAll } from '../bake/looking';
import { useListening } from '../viewport/mix/listening';
import { usePicture } from '../viewport/meter/pictureStore';
import styles from './instrument.module.css';

/** What the point under the cursor reads, where the sun stands, and how the baked light stands to the rig. */
export function InstrumentLine({ control }: { control: BakeControl }) {
  const { reading, walking } = useMeter();
  const sun = useStudio((s) => targetOf(s).suns[0]);
  return (
    <footer className={styles.line} aria-label="Instruments">
      <span className={styles.spot}>
        spot <Value text={typeof reading?.lux !== 'number' ? '–' : readable(reading.lux)} unit="lx" wide />
      </span>
      <span>
        <Value text={reading ? readable(reading.luminance) : '–'} unit="cd/m²" wide />
      </span>
      <span>
        EV{' '}
        <Value text={reading && reading.luminance > 0 ? ev100FromLuminance(reading.luminance).toFixed(1).replace('-', '−') : '–'} unit="" />
      </span>
      <span>
        <Value text={typeof reading?.distanceM !== 'number' ? '–' : grouped(reading.distanceM, reading.distanceM < 20 ? 1 : 0)} unit="m" />
      </span>
      <span>
        <i className={styles.sun} data-kind={sun?.kind} /> {sun?.kind ?? 'no sun'}{' '}
        <b>{sun ? `${sun.azimuthDeg.toFixed(1)}° / ${sun.elevationDeg.toFixed(1)}°` : ''}</b>
      </span>
      {reading?.fog && (
        <span title="Share of the thing’s own light that reaches the eye, and from where on nothing of a thing is seen along this look">
          fog <b>{percent(reading.fog.share)}</b> seen, none past <b>{reading.fog.endM === Infinity ? '∞' : readable(reading.fog.endM)}</b>{' '}
          m
        </span>
      )}
      {walking && <span>on foot</span>}
      <NotAllHeard />
      <PictureCosts />
      <Standing control={control} />
    </footer>
  );
}

const Value = ({ text, unit, wide = false }: { text: string; unit: string; wide?: boolean }) => (
  <>
    <b className={wide ? styles.wide : styles.narrow}>{text}</b> {unit}
  </>
);

/** Says that the picture leaves some light out, and takes it in again. */
function NotAllHeard() {
  const { solo, muted, soloCircuits, mutedCircuits } = useListening();
  const stems = solo.length + muted.length;
  const circuits = soloCircuits.length + mutedCircuits.length;
  if (stems + circuits === 0) return null;
  const what = [stems > 0 && 'stems', circuits > 0 && 'circuits'].filter(Boolean).join(' and ');
  return (
    <button type="button" className={styles.standing} data-state="stale" title="Show all of them" onClick={hearAll}>
      some {what} are muted
    </button>
  );
}

/** What the steps of the picture take here, and how finely it is drawn. */
function PictureCosts() {
  const { costs, shown } = usePicture();
  if (!costs) return null;
  const steps = (['fog', 'water', 'fall', 'bloom', 'grade'] as const)
    .filter((step) => costs[step] >= 0.5)
    .map((step) => `${step === 'fall' ? 'weather' : step} ${grouped(costs[step])}`);
  return (
    <span
      title={`A picture takes ${grouped(costs.frame)} ms here; Grade room, Picture: how finely it is drawn`}
      data-testid="picture-costs"
      data-frame={costs.frame}
      data-scene={costs.scene}
      data-fog={costs.fog}
      data-fall={costs.fall}
      data-water={costs.water}
      data-bloom={costs.bloom}
      data-grade={costs.grade}
    >
      {shown} {steps.length > 0 && <b>{steps.join(' · ')} ms</b>}
    </span>
  );
}

function doing({ state, share, secondsLeft }: BakeView, workers: number): string {
  if (state === 'paused') return `bake paused at ${Math.floor(share * 100)} %`;
  if (workers === 0) return 'no worker is running';
  return state === 'planning' ? 'laying out' : `baking ${Math.floor(share * 100)} %, ${timeLeft(secondsLeft)}`;
}

function Standing({ control }: { control: BakeControl }) {
  const rig = useStudio((s) => s.rig);
  const store = useStudioStore();
  const { atWork, done, failed, opened, workers } = control.bakes;
  const isLacking = done !== null && lackingOpenings(rig, opened).length > 0;
  const reasons = done ? [...changeSince(done, rig).reasons, ...(isLacking ? ['openings are not baked'] : [])] : [];
  const text = atWork
    ? doing(atWork, workers)
    : failed
      ? 'bake failed'
      : !done
        ? 'live light, not baked'
        : reasons.length > 0
          ? `out of date: ${reasons[0]}${reasons.length > 1 ? `, and ${reasons.length - 1} more` : ''}`
          : 'bake up to date';
  const state = atWork ? (workers === 0 ? 'stale' : 'work') : failed ? 'stale' : !done ? 'none' : reasons.length > 0 ? 'stale' : 'fresh';
  return (
    <button type="button" className={styles.standing} data-state={state} onClick={() => store.getState().enter('bake')}>
      {text}
    </button>
  );
}
