'use client';

import { Button, Slider } from 'antd';
import { strollMoment, strollSeconds } from '../../core/rig';
import { useStudio, useStudioStore } from '../state/context';
import { currentStroll, picturedRig } from '../state/studioStore';
import { momentName, secondsText } from './strollText';
import styles from './strolls.module.css';

/** Places that the slider tells apart: its last is the stroll's end, however long that is. */
const PLACES = 1000;

/** Over the foot of the picture while one is on a stroll: where on it, playing it, leaving it. */
export function StrollBar() {
  const store = useStudioStore();
  const stroll = useStudio(currentStroll);
  const at = useStudio((s) => s.strolling);
  const rig = useStudio(picturedRig);
  if (!stroll || !at) return null;
  const whole = strollSeconds(stroll);
  const go = (atS: number, playing: boolean) => store.getState().stroll({ id: stroll.id, atS, playing });
  const play = () => go(at.atS >= whole ? 0 : at.atS, !at.playing);
  return (
    <section className={styles.bar} aria-label={`Stroll: ${stroll.name}`}>
      <Button size="small" type={at.playing ? 'primary' : 'default'} onClick={play}>
        {at.playing ? 'Pause' : 'Play'}
      </Button>
      <b>{stroll.name}</b>
      <Slider
        className={styles.slider}
        min={0}
        max={PLACES}
        value={Math.round((at.atS / whole) * PLACES)}
        tooltip={{ open: false }}
        ariaLabelForHandle="Place on the stroll"
        ariaValueTextFormatterForHandle={(v) => secondsText((v / PLACES) * whole)}
        onChange={(v) => go((v / PLACES) * whole, false)}
      />
      <span className={styles.time}>
        {secondsText(at.atS, true)} / {secondsText(whole, true)}
      </span>
      <span className={styles.moment}>{momentName(strollMoment(rig, stroll, at.atS), rig.day.clock === 12)}</span>
      <Button size="small" onClick={() => store.getState().stroll(null)}>
        Leave
      </Button>
    </section>
  );
}
