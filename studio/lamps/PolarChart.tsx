import { lineRadial, max } from 'd3';
import { useMemo } from 'react';
import { emissionOf, type Lamp, type Profile } from '../../core/lamps';
import { readable } from '../desk/quantity';
import styles from './lamps.module.css';

const SIZE = 156;
const STEP_DEG = 3;

/** A lamp's intensity by direction: the plane through its right drawn whole, the plane across it dashed; its aim points down. */
export function PolarChart({ lamp, profiles }: { lamp: Pick<Lamp, 'shape' | 'output' | 'color'>; profiles: readonly Profile[] }) {
  const { planes, peak } = useMemo(() => {
    const { intensity, peak: most } = emissionOf(lamp, profiles);
    const angles = Array.from({ length: 360 / STEP_DEG + 1 }, (_, i) => (i * STEP_DEG * Math.PI) / 180);
    const along = angles.map((a): [number, number] => [Math.PI - a, intensity(Math.sin(a), 0, Math.cos(a))]);
    const across = angles.map((a): [number, number] => [Math.PI - a, intensity(0, Math.sin(a), Math.cos(a))]);
    return { planes: [across, along], peak: most };
  }, [lamp, profiles]);
  const top = max(planes.flat(), ([, v]) => v) || 1;
  const radius = SIZE / 2 - 14;
  const path = lineRadial<[number, number]>()
    .angle(([a]) => a)
    .radius(([, v]) => (v / top) * radius);
  return (
    <svg
      width={SIZE}
      height={SIZE}
      className={styles.polar}
      role="img"
      aria-label={`Polar chart of its intensity, at most ${readable(peak)} candela`}
    >
      <g transform={`translate(${SIZE / 2},${SIZE / 2})`}>
        {[0.5, 1].map((share) => (
          <circle key={share} r={radius * share} />
        ))}
        <line x1={-radius} x2={radius} />
        <line y1={-radius} y2={radius} />
        {planes.map((plane, i) => (
          <path key={i} d={path(plane) ?? undefined} data-across={i === 0} />
        ))}
        <text x={3} y={-radius - 3}>
          {readable(peak)} cd
        </text>
      </g>
    </svg>
  );
}
