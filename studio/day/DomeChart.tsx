'use client';

import { line } from 'd3';
import { useMemo, useRef, type PointerEvent as ReactPointerEvent } from 'react';
import { drawnSun, momentAt, sunOver } from '../../core/almanac';
import type { HeldBodyName, Rig } from '../../core/rig';
import styles from './day.module.css';

const SIZE = 208;
const MIDDLE = SIZE / 2;
const RADIUS = 88;
/** How near the moon a drag has to begin to be the moon's. */
const GRIP_PX = 11;

/** Azimuth and elevation, degrees. */
type Point = [azimuthDeg: number, elevationDeg: number];

/**
 * Place on the chart, which shows the dome from above like a map: zenith in the middle, horizon at the rim, north up, east at
 * the right; equal areas (Lambert's azimuthal projection).
 */
function placed([azimuth, elevation]: Point): [number, number] {
  const r = RADIUS * Math.SQRT2 * Math.sin(((90 - elevation) * Math.PI) / 360);
  const a = (azimuth * Math.PI) / 180;
  return [MIDDLE + r * Math.sin(a), MIDDLE - r * Math.cos(a)];
}

/** The point of the dome under a place on the chart; the rim for places beyond it. */
function skyUnder(x: number, y: number): Point {
  const [dx, dy] = [x - MIDDLE, MIDDLE - y];
  const r = Math.min(RADIUS, Math.hypot(dx, dy));
  const azimuth = ((Math.atan2(dx, dy) * 180) / Math.PI + 360) % 360;
  return [azimuth, 90 - (2 * Math.asin(r / RADIUS / Math.SQRT2) * 180) / Math.PI];
}

/** The parts of a course over the horizon, as one path. */
function pathOf(points: Point[]): string {
  const draw = line<Point>()
    .defined(([, elevation]) => elevation >= -0.3)
    .x((p) => placed(p)[0])
    .y((p) => placed(p)[1]);
  return draw(points) ?? '';
}

const HOURS = Array.from({ length: 73 }, (_, i) => i / 3);
/** Nearly the longest and the shortest day, between which the sun stays all year. */
const SOLSTICES = ['06-21', '12-21'];

interface Props {
  rig: Pick<Rig, 'place' | 'day'>;
  sun: Point;
  moon: Point | null;
  /** Told where the sun or the moon is dragged to; null where they cannot be. */
  onMove: ((body: HeldBodyName, azimuthDeg: number, elevationDeg: number) => void) | null;
}

/** The sky dome over the place: the day's path of the sun, the year's bounds, sun and moon now. Both can be dragged. */
export function DomeChart({ rig, sun, moon, onMove }: Props) {
  const { place, day } = rig;
  const dragging = useRef<HeldBodyName | null>(null);
  const path = useMemo(
    () =>
      pathOf(
        HOURS.map((h): Point => {
          const { azimuthDeg, elevationDeg } = day.course === 'drawn' ? drawnSun(day.drawn, h) : sunOver(place, momentAt(place, h));
          return [azimuthDeg, elevationDeg];
        }),
      ),
    [place, day.course, day.drawn],
  );
  const bounds = useMemo(() => {
    if (day.course === 'drawn') return [];
    return SOLSTICES.map((monthDay) => {
      const on = { ...place, date: `${place.date.slice(0, 4)}-${monthDay}` };
      return pathOf(
        HOURS.map((h): Point => {
          const { azimuthDeg, elevationDeg } = sunOver(on, momentAt(on, h));
          return [azimuthDeg, elevationDeg];
        }),
      );
    });
  }, [place, day.course]);

  const move = (event: ReactPointerEvent<SVGSVGElement>) => {
    if (!dragging.current || !onMove) return;
    const box = event.currentTarget.getBoundingClientRect();
    const [azimuth, elevation] = skyUnder(event.clientX - box.left, event.clientY - box.top);
    onMove(dragging.current, Number(azimuth.toFixed(1)) % 360, Number(elevation.toFixed(1)));
  };

  const [sx, sy] = placed(sun);
  return (
    <figure className={styles.dome}>
      <svg
        width={SIZE}
        height={SIZE}
        role="img"
        aria-label="Sky dome from above"
        data-draggable={onMove !== null}
        onPointerDown={(event) => {
          if (!onMove) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          const box = event.currentTarget.getBoundingClientRect();
          const away = (body: Point) => Math.hypot(placed(body)[0] - event.clientX + box.left, placed(body)[1] - event.clientY + box.top);
          dragging.current = moon && moon[1] > 0 && away(moon) < GRIP_PX && away(moon) < away(sun) ? 'moon' : 'sun';
          move(event);
        }}
        onPointerMove={move}
        onPointerUp={() => (dragging.current = null)}
        onPointerCancel={() => (dragging.current = null)}
      >
        <circle cx={MIDDLE} cy={MIDDLE} r={RADIUS} className={styles.rim} />
        {[30, 60].map((e) => (
          <circle key={e} cx={MIDDLE} cy={MIDDLE} r={MIDDLE - placed([0, e])[1]} className={styles.ring} />
        ))}
        {[0, 90].map((a) => {
          const [x1, y1] = placed([a, 0]);
          const [x2, y2] = placed([a + 180, 0]);
          return <line key={a} x1={x1} y1={y1} x2={x2} y2={y2} className={styles.ring} />;
        })}
        {(['N', 'E', 'S', 'W'] as const).map((name, i) => {
          const a = (i * Math.PI) / 2;
          return (
            <text key={name} x={MIDDLE + 97 * Math.sin(a)} y={MIDDLE - 97 * Math.cos(a) + 4} className={styles.bearing}>
              {name}
            </text>
          );
        })}
        {bounds.map((d) => (
          <path key={d} d={d} className={styles.bound} />
        ))}
        <path d={path} className={styles.path} />
        {moon && moon[1] > 0 && <circle cx={placed(moon)[0]} cy={placed(moon)[1]} r={4.5} className={styles.moonDot} />}
        <circle cx={sx} cy={sy} r={6} className={sun[1] > 0 ? styles.sunDot : styles.sunSet} />
      </svg>
      <figcaption>from above</figcaption>
    </figure>
  );
}
