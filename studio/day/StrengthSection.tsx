'use client';

import { area, curveLinear, line, scaleLinear } from 'd3';
import { useMemo, useRef, useState, type PointerEvent as ReactPointerEvent } from 'react';
import { sunStrengths, type Rig } from '../../core/rig';
import { clockText, grouped, readable } from '../desk/quantity';
import { ActionRow } from '../desk/ActionRow';
import { Section } from '../desk/Section';
import type { ChangeRig } from '../state/useRigEdit';
import day from './day.module.css';

const WIDTH = 292;
const HEIGHT = 86;
const MOMENTS = 96;
/** The most that the curve can be pulled up to; the document takes more. */
const MOST = 2;
const x = scaleLinear([0, 24], [0, WIDTH]);
const gainY = scaleLinear([0, MOST], [HEIGHT - 4, 6]);

interface Props {
  rig: Rig;
  /** The rig on the day that is shown. */
  today: Rig;
  changeRig: ChangeRig;
}

/** The sun's strength over the hours: by the air alone, and bent by a curve that is drawn by hand. */
export function StrengthSection(props: Props) {
  const bent = props.rig.day.strength.some((g) => g !== 1);
  return (
    <Section title="Strength by the hour" note={bent ? 'bent' : 'by the air'} rare>
      <Curve {...props} bent={bent} />
    </Section>
  );
}

function Curve({ rig, today, changeRig, bent }: Props & { bent: boolean }) {
  const { strength, clock } = rig.day;
  const { place, day: course, airId, airs } = today;
  const [at, setAt] = useState(12);
  const drawing = useRef(false);
  const sun = useMemo(() => sunStrengths({ place, day: course, airId, airs }, MOMENTS), [place, course, airId, airs]);
  const most = Math.max(1, ...sun.flatMap((s) => [s.natural, s.bent]));
  const luxY = scaleLinear([0, most], [HEIGHT - 4, 6]);
  const moment = (i: number) => x(((i + 0.5) / MOMENTS) * 24);

  const set = (hour: number, gain: number) => {
    setAt(hour);
    const next = Number(Math.min(MOST, Math.max(0, gain)).toFixed(2));
    if (next === strength[hour]) return;
    changeRig(`Sun ×${next.toFixed(2)} at ${clockText(hour, clock === 12)}`, (r) => void (r.day.strength[hour] = next), 'strength');
  };
  const draw = (event: ReactPointerEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const hour = Math.round(x.invert(event.clientX - box.left));
    if (drawing.current) set(((hour % 24) + 24) % 24, gainY.invert(event.clientY - box.top));
  };
  const shown = `${clockText(at, clock === 12)}: ×${strength[at]!.toFixed(2)}`;

  return (
    <>
      <svg
        width={WIDTH}
        height={HEIGHT}
        className={day.strength}
        role="slider"
        tabIndex={0}
        aria-label="Sun’s strength by the hour"
        aria-valuemin={0}
        aria-valuemax={MOST}
        aria-valuenow={strength[at]}
        aria-valuetext={shown}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          drawing.current = true;
          draw(event);
        }}
        onPointerMove={draw}
        onPointerUp={() => (drawing.current = false)}
        onPointerCancel={() => (drawing.current = false)}
        onKeyDown={(event) => {
          const across = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
          const up = { ArrowDown: -0.05, ArrowUp: 0.05 }[event.key];
          if (across === undefined && up === undefined) return;
          event.preventDefault();
          event.stopPropagation();
          if (across) setAt((at + across + 24) % 24);
          if (up) set(at, strength[at]! + up);
        }}
      >
        <path
          className={day.natural}
          d={
            area<{ natural: number }>()
              .x((_, i) => moment(i))
              .y0(HEIGHT - 4)
              .y1((s) => luxY(s.natural))(sun) ?? undefined
          }
        />
        <path
          className={day.bent}
          d={
            line<{ bent: number }>()
              .x((_, i) => moment(i))
              .y((s) => luxY(s.bent))(sun) ?? undefined
          }
        />
        <line x2={WIDTH} y1={gainY(1)} y2={gainY(1)} className={day.even} />
        <path
          className={day.gain}
          d={
            line<number>()
              .x((_, i) => x(i))
              .y((g) => gainY(Math.min(MOST, g)))
              .curve(curveLinear)([...strength, strength[0]!]) ?? undefined
          }
        />
        <circle cx={x(at)} cy={gainY(Math.min(MOST, strength[at]!))} r={4} className={day.gainDot} />
      </svg>
      <ActionRow
        label={
          <>
            {shown}, most {readable(Math.max(...sun.map((s) => s.bent)))} lx
          </>
        }
        action="straighten"
        disabled={!bent}
        onClick={() => changeRig('Sun’s strength by the air', (r) => void r.day.strength.fill(1))}
      />
      <p className={day.facts}>Draw across it: the sun, and the sky it lights, times 0 to {grouped(MOST)}. Arrow keys do it too.</p>
    </>
  );
}
