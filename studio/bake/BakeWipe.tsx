'use client';

import { Button } from 'antd';
import { useEffect, useState, type PointerEvent as ReactPointerEvent } from 'react';
import { sameJson } from '../../core/units';
import { WipeLine } from '../desk/WipeLine';
import { useStudio, useStudioStore } from '../state/context';
import { useTell } from '../state/useTell';
import { useListening } from '../viewport/mix/listening';
import { useView } from '../viewport/viewStore';
import { askedAt, madeBy } from './KeptBakesSection';
import { endComparison, lookAt, useShown, type Side } from './shownBake';
import styles from './bake.module.css';

/** How often it is looked whether the view moved, milliseconds. */
const LOOK_MS = 200;

/** Over the picture: which bake lights it where that is not the newest, and two bakes side by side of a line that is dragged. */
export function BakeWipe() {
  const lookedAt = useShown((s) => s.lookedAt);
  const compared = useShown((s) => s.compared);
  const levelHash = useStudio((s) => s.level.hash);
  // Another version of the level, or another layout of the newest bake, is what is to be seen then.
  useEffect(() => () => lookAt(null), [levelHash]);
  useEndWhenMoved(compared !== null);
  if (compared?.second) return <Wipe first={compared.first} second={compared.second} />;
  if (!lookedAt) return null;
  return (
    <div className={styles.lookedAt} role="status">
      {compared ? 'Reading the light of the other bake' : `The bake of ${askedAt(lookedAt)}: ${madeBy(lookedAt)}`}
      <Button size="small" onClick={() => lookAt(null)}>
        Back to the newest
      </Button>
    </div>
  );
}

function Wipe({ first, second }: { first: Side; second: Side }) {
  const [at, setAt] = useState(0.5);
  const follow = (event: ReactPointerEvent<HTMLElement>) => {
    if (event.buttons === 0) return;
    const { left, width } = event.currentTarget.getBoundingClientRect();
    setAt(Math.min(1, Math.max(0, (event.clientX - left) / width)));
  };
  return (
    <div className={styles.wipe} onPointerDown={follow} onPointerMove={follow}>
      {/* Object URLs of pictures just rendered: there is nothing for an image service to do. */}
      <img src={second.url} alt={`Lit by the bake of ${askedAt(second.bake)}`} draggable={false} />
      <img
        src={first.url}
        alt={`Lit by the bake of ${askedAt(first.bake)}`}
        draggable={false}
        style={{ clipPath: `inset(0 ${(1 - at) * 100}% 0 0)` }}
      />
      <WipeLine at={at} label="Line between the two bakes" onChange={setAt} />
      <span className={styles.wipeSide}>
        {madeBy(first.bake)}, {askedAt(first.bake)}
      </span>
      <span className={styles.wipeSide}>
        {madeBy(second.bake)}, {askedAt(second.bake)}
      </span>
      <Button size="small" onClick={endComparison}>
        End
      </Button>
    </div>
  );
}

/** Ends a comparison when the view or the light is another than that of its first picture, and says so. */
function useEndWhenMoved(isOn: boolean): void {
  const store = useStudioStore();
  const { say } = useTell();
  useEffect(() => {
    if (!isOn) return;
    const eye = useView.getState().vantage?.() ?? null;
    const end = () => {
      endComparison();
      say('The comparison ended: the view or the light is another now.');
    };
    const timer = setInterval(() => !sameJson(eye, useView.getState().vantage?.() ?? null) && end(), LOOK_MS);
    const { rig, cueId, hour } = store.getState();
    const stops = [store.subscribe((s) => (s.rig !== rig || s.cueId !== cueId || s.hour !== hour) && end()), useListening.subscribe(end)];
    return () => {
      clearInterval(timer);
      stops.forEach((stop) => stop());
    };
  }, [isOn, store, say]);
}
