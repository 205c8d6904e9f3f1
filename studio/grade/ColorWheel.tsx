'use client';

import { useRef, type KeyboardEvent, type PointerEvent as ReactPointerEvent } from 'react';
import type { WheelPoint } from '../../core/grade';
import styles from './grade.module.css';

interface Props {
  label: string;
  point: WheelPoint;
  /** Pull at the rim. */
  reach: number;
  onChange(point: WheelPoint): void;
}

const SIZE = 84;
const R = SIZE / 2 - 6;
/** Hues about the rim, in degrees from red. */
const RIM = [0, 60, 120, 180, 240, 300];
const STEP = 0.02;

/** A disc on which a point is pulled towards a hue; a double click puts it back into the middle. */
export function ColorWheel({ label, point, reach, onChange }: Props) {
  const disc = useRef<SVGSVGElement>(null);
  const held = useRef<{ x: number; y: number } | null>(null);
  const move = (event: ReactPointerEvent) => {
    if (!held.current) return;
    const fine = event.shiftKey ? 0.15 : 0.6;
    const x = point.x + ((event.clientX - held.current.x) / R) * reach * fine;
    const y = point.y - ((event.clientY - held.current.y) / R) * reach * fine;
    held.current = { x: event.clientX, y: event.clientY };
    offer(x, y);
  };
  const offer = (x: number, y: number) => {
    const far = Math.max(1, Math.hypot(x, y) / reach);
    onChange({ ...point, x: x / far, y: y / far });
  };
  const press = (event: KeyboardEvent) => {
    const ways: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };
    const way = ways[event.key];
    if (!way) return;
    event.preventDefault();
    event.stopPropagation();
    offer(point.x + way[0] * STEP * reach, point.y + way[1] * STEP * reach);
  };
  const [px, py] = [SIZE / 2 + (point.x / reach) * R, SIZE / 2 - (point.y / reach) * R];
  return (
    <svg
      ref={disc}
      className={styles.wheel}
      width={SIZE}
      height={SIZE}
      role="slider"
      tabIndex={0}
      aria-label={`Colour of ${label}`}
      aria-valuenow={Number((Math.hypot(point.x, point.y) / reach).toFixed(2))}
      aria-valuetext={`${Math.round((Math.hypot(point.x, point.y) / reach) * 100)} % towards ${Math.round((Math.atan2(point.y, point.x) * 180) / Math.PI + 360) % 360}°`}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        held.current = { x: event.clientX, y: event.clientY };
      }}
      onPointerMove={move}
      onPointerUp={() => (held.current = null)}
      onPointerCancel={() => (held.current = null)}
      onDoubleClick={() => onChange({ ...point, x: 0, y: 0 })}
      onKeyDown={press}
    >
      <circle cx={SIZE / 2} cy={SIZE / 2} r={R} />
      <path d={`M ${SIZE / 2} ${SIZE / 2 - 4} v 8 M ${SIZE / 2 - 4} ${SIZE / 2} h 8`} />
      {RIM.map((hue) => {
        const a = (hue * Math.PI) / 180;
        const at = (r: number) => `${SIZE / 2 + r * Math.cos(a)} ${SIZE / 2 - r * Math.sin(a)}`;
        return <path key={hue} d={`M ${at(R - 3)} L ${at(R + 4)}`} style={{ stroke: `hsl(${hue} 55% 58%)` }} className={styles.rim} />;
      })}
      <line x1={SIZE / 2} y1={SIZE / 2} x2={px} y2={py} />
      <circle cx={px} cy={py} r={5} className={styles.puck} />
    </svg>
  );
}
