'use client';

import { Button, InputNumber } from 'antd';
import { useEffect, useState } from 'react';
import { Failure } from '../../core/units';
import { useLadder, type LadderAsked } from '../desk/ladderAsked';
import { grouped } from '../desk/quantity';
import { useStudioStore } from '../state/context';
import { useTell } from '../state/useTell';
import { ALL, heard, useListening } from '../viewport/mix/listening';
import { pngOf } from '../viewport/renderer/pngOf';
import { useView } from '../viewport/viewStore';
import { STEPS, ladderRange, ladderValues } from './ladder';
import { lightOfRig } from './sheets';
import styles from './compare.module.css';

/** Size of the pictures of a ladder, pixels. */
const PICTURE = { width: 216, height: 144 };

/** A strip over the foot of the picture: one value at several steps, each as a picture of the present view. A click takes one. */
export function LadderPanel() {
  const asked = useLadder((s) => s.asked);
  return asked && <Ladder key={`${asked.label} ${asked.value}`} asked={asked} />;
}

/** An end of a ladder as it is written: no more digits than are told apart, and while it is typed what is typed. */
const short = (value: number | string | undefined, { userTyping, input }: { userTyping: boolean; input: string }): string =>
  userTyping || value === undefined || value === '' ? input : String(Number(Number(value).toPrecision(4)));

interface Rung {
  value: number;
  url: string;
}

function Ladder({ asked }: { asked: LadderAsked }) {
  const { label, value, quantity, set } = asked;
  const [steps, setSteps] = useState<number>(STEPS.preset);
  const [[from, to], setRange] = useState(() => ladderRange(value, quantity));
  const { rungs, tookMs } = useRungs(asked, from, to, steps);
  const close = () => useLadder.setState({ asked: null });
  const end = (which: 0 | 1) => (next: number | null) => {
    if (next === null || !Number.isFinite(next)) return;
    const inside = Math.min(quantity.max, Math.max(quantity.min, next));
    setRange(which === 0 ? [inside, to] : [from, inside]);
  };
  const text = (v: number) => `${quantity.format(v)}${quantity.unit ? ` ${quantity.unit}` : ''}`;
  return (
    <section className={styles.ladder} aria-label={`Ladder of ${label}`} data-rungs={rungs.length}>
      <header>
        <strong>{label}</strong>
        <span>from</span>
        <InputNumber size="small" value={from} formatter={short} onChange={end(0)} aria-label="First step" controls={false} />
        <span>to</span>
        <InputNumber size="small" value={to} formatter={short} onChange={end(1)} aria-label="Last step" controls={false} />
        <span>{quantity.unit}, in</span>
        <InputNumber
          size="small"
          min={STEPS.least}
          max={STEPS.most}
          precision={0}
          value={steps}
          onChange={(next) => next !== null && setSteps(next)}
          aria-label="Steps"
        />
        <span role="status">steps{tookMs !== null && `, made in ${grouped(tookMs / 1000, 1)} s`}</span>
        <Button size="small" onClick={close}>
          Close
        </Button>
      </header>
      <div className={styles.rungs} style={{ gridTemplateColumns: `repeat(${Math.max(1, rungs.length)}, minmax(0, 1fr))` }}>
        {rungs.map((rung) => (
          <button
            key={rung.value}
            type="button"
            data-now={Math.abs(rung.value - value) < 1e-9}
            aria-label={`${label} ${text(rung.value)}`}
            onClick={() => {
              set(rung.value);
              close();
            }}
          >
            <img src={rung.url} alt="" draggable={false} />
            <b>{text(rung.value)}</b>
          </button>
        ))}
      </div>
    </section>
  );
}

/** Makes the pictures of the steps, one a frame. */
function useRungs(
  { label, quantity, cueId, set }: LadderAsked,
  from: number,
  to: number,
  steps: number,
): { rungs: Rung[]; tookMs: number | null } {
  const store = useStudioStore();
  const { fault } = useTell();
  const [rungs, setRungs] = useState<Rung[]>([]);
  const [tookMs, setTook] = useState<number | null>(null);
  useEffect(() => {
    const values = ladderValues(from, to, steps, quantity);
    const made: Rung[] = [];
    const started = performance.now();
    let [frame, ended] = [0, false];
    const make = async () => {
      const { picture } = useView.getState();
      const value = values[made.length];
      if (ended || !picture || value === undefined) return;
      const before = store.getState().rig;
      const rig = store.getState().tryEdits(() => set(value));
      // The value that stands changes nothing; another one that does so was refused.
      if (rig === before && !values.some((v) => v !== value))
        throw new Failure('bad-input', `${label} cannot be changed here.`, 'Choose a value of a desk.');
      const pixels = picture(heard(lightOfRig(store, rig, cueId), { ...ALL, ...useListening.getState() }), PICTURE.width, PICTURE.height);
      const url = URL.createObjectURL(await pngOf(pixels, PICTURE.width, PICTURE.height));
      if (ended) return URL.revokeObjectURL(url);
      made.push({ value, url });
      setRungs([...made]);
      if (made.length === values.length) return setTook(performance.now() - started);
      frame = requestAnimationFrame(() => void make().catch(fault));
    };
    frame = requestAnimationFrame(() => void make().catch(fault));
    return () => {
      ended = true;
      cancelAnimationFrame(frame);
      for (const { url } of made) URL.revokeObjectURL(url);
    };
    // What the row is now does not change what is tried.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [from, to, steps, store, fault]);
  return { rungs, tookMs };
}
