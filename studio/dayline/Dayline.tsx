'use client';

import { scaleLinear } from 'd3';
import { useEffect, useRef, useState, type PointerEvent as ReactPointerEvent } from 'react';
import { displayColor } from '../../core/grade';
import { resolveCue, type Cue } from '../../core/rig';
import { mixRgb } from '../../core/units';
import { clock } from '../desk/quantity';
import { useStudio, useStudioStore } from '../state/context';
import styles from './dayline.module.css';

const HOURS = Array.from({ length: 25 }, (_, h) => h);
/** A pin follows the pointer in steps of five minutes. */
const STEP_H = 1 / 12;

/** The sky of a cue from horizon to zenith, as it shows at the cue's own exposure. */
function skyGradient(cue: Cue): string {
  const { sky, exposureEv100 } = resolveCue(cue);
  const stops = [0, 0.35, 1].map((t) => {
    const [r, g, b] = displayColor(mixRgb(sky.zenith, sky.horizon, t), exposureEv100);
    return `rgb(${[r, g, b].map((v) => Math.round(v * 255)).join()}) ${Math.round(t * 100)}%`;
  });
  return `linear-gradient(${stops.join()})`;
}

/** The strip of 24 hours across the top: the cues are pins on it, in the colours of their own skies. */
export function Dayline() {
  const cues = useStudio((s) => s.rig.cues);
  const cueId = useStudio((s) => s.cueId);
  const strip = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(1280);

  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => setWidth(entry!.contentRect.width));
    observer.observe(strip.current!);
    return () => observer.disconnect();
  }, []);

  const x = scaleLinear([0, 24], [0, width]);
  return (
    <div ref={strip} className={styles.dayline} aria-label="Dayline" role="group">
      <svg width={width} height={96} aria-hidden>
        {HOURS.map((h) => (
          <g key={h} transform={`translate(${x(h)} 0)`}>
            <line y1={h % 3 === 0 ? 62 : 70} y2={76} className={styles.tick} />
            {h % 3 === 0 && h > 0 && h < 24 && (
              <text y={90} className={styles.hour}>
                {String(h).padStart(2, '0')}
              </text>
            )}
          </g>
        ))}
        <line x2={width} y1={76} y2={76} className={styles.tick} />
      </svg>
      {cues.map((cue, i) => (
        <Pin
          key={cue.id}
          cue={cue}
          number={i + 1}
          selected={cue.id === cueId}
          left={x(cue.hour)}
          width={width}
          hourAt={(px) => x.invert(px)}
          strip={strip}
        />
      ))}
    </div>
  );
}

interface PinProps {
  cue: Cue;
  number: number;
  selected: boolean;
  left: number;
  width: number;
  hourAt(px: number): number;
  strip: React.RefObject<HTMLDivElement | null>;
}

/** A cue on the dayline: a click goes to it, dragging moves its hour. */
function Pin({ cue, number, selected, left, width, hourAt, strip }: PinProps) {
  const store = useStudioStore();
  /** Where the pointer took hold, how far from the pin that is, and whether it has moved since. */
  const drag = useRef<{ from: number; off: number; moved: boolean } | null>(null);

  const moveTo = (hour: number) => {
    const around = (((Math.round(hour / STEP_H) * STEP_H) % 24) + 24) % 24;
    const snapped = Number(around.toFixed(4)) % 24;
    store
      .getState()
      .edit(
        `Moved ${cue.name} to ${clock(snapped)}`,
        (rig) => void (rig.cues.find((c) => c.id === cue.id)!.hour = snapped),
        `${cue.id} hour`,
      );
  };
  const move = (event: ReactPointerEvent) => {
    if (!drag.current) return;
    if (Math.abs(event.clientX - drag.current.from) > 3) drag.current.moved = true;
    if (drag.current.moved) moveTo(hourAt(event.clientX - drag.current.off - strip.current!.getBoundingClientRect().left));
  };

  return (
    <button
      type="button"
      className={styles.pin}
      data-selected={selected}
      data-flip={left > width - 170}
      style={{ left }}
      aria-label={`${cue.name}, ${clock(cue.hour)}. Arrow keys move it.`}
      aria-pressed={selected}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        drag.current = { from: event.clientX, off: event.clientX - event.currentTarget.getBoundingClientRect().left, moved: false };
      }}
      onPointerMove={move}
      onPointerUp={() => {
        if (drag.current && !drag.current.moved) store.getState().go(cue.id);
        drag.current = null;
      }}
      onPointerCancel={() => (drag.current = null)}
      onKeyDown={(event) => {
        if (event.key === 'Enter' || event.key === ' ') store.getState().go(cue.id);
        if (event.key === 'ArrowLeft' || event.key === 'ArrowRight') {
          event.preventDefault();
          event.stopPropagation();
          moveTo(cue.hour + (event.key === 'ArrowRight' ? 1 : -1) * STEP_H * (event.shiftKey ? 12 : 1));
        }
      }}
    >
      <span className={styles.flag}>
        <i style={{ background: skyGradient(cue) }} />
        <b>{number}</b> {cue.name} <small>{clock(cue.hour)}</small>
      </span>
    </button>
  );
}
