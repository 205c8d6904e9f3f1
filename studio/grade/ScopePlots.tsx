'use client';

import { area, curveStep, scaleLinear } from 'd3';
import { useEffect, useRef } from 'react';
import { HISTOGRAM, PARADE, VECTOR, VECTOR_REACH, type Scopes as Measured } from '../../core/grade';
import styles from './grade.module.css';

const WIDTH = 292;
const HEIGHT = 54;

/** Luminances of the scene by EV100, with what mid-grey and white are exposed at. */
export function Histogram({ scopes, ev100 }: { scopes: Measured | null; ev100: number }) {
  const low = Math.floor(ev100) - 10;
  const high = Math.floor(ev100) + 7;
  const x = scaleLinear([low, high], [0, WIDTH]);
  const bins = scopes ? Array.from(scopes.histogram, (share, i) => ({ ev: HISTOGRAM.fromEv + i / HISTOGRAM.perEv, share })) : [];
  const inside = bins.filter(({ ev }) => ev >= low && ev <= high);
  const most = Math.max(0.02, ...inside.map((b) => b.share));
  const path = area<{ ev: number; share: number }>()
    .curve(curveStep)
    .x(({ ev }) => x(ev))
    .y0(HEIGHT)
    .y1(({ share }) => HEIGHT - (share / most) * (HEIGHT - 6))(inside);
  // A reflected-light meter's mean is mid-grey; white lies log2(1.2 / 0.125) over it.
  const white = ev100 + Math.log2(1.2 / 0.125);
  return (
    <svg className={styles.histogram} width={WIDTH} height={HEIGHT + 15} role="img" aria-label="Luminances of the picture, in EV">
      {path && <path d={path} />}
      <line x1={x(ev100)} x2={x(ev100)} y2={HEIGHT} />
      <line x1={x(white)} x2={x(white)} y2={HEIGHT} />
      {Array.from({ length: high - low + 1 }, (_, i) => low + i)
        .filter((ev) => ev % 2 === 0)
        .map((ev) => (
          <text key={ev} x={x(ev)} y={HEIGHT + 12}>
            {String(ev).replace('-', '−')}
          </text>
        ))}
      <text x={x(ev100) + 3} y={9} className={styles.mark}>
        grey
      </text>
      <text x={x(white) + 3} y={9} className={styles.mark}>
        white
      </text>
    </svg>
  );
}

const TINTS = [
  [228, 122, 112],
  [122, 196, 118],
  [118, 152, 232],
] as const;

/** Each channel by itself: how many points of each column have each level. */
export function Parade({ scopes }: { scopes: Measured | null }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { columns, levels } = PARADE;
  useEffect(() => {
    if (!scopes) return;
    const image = new ImageData(columns * 3, levels);
    scopes.parade.forEach((counts, c) => {
      const most = counts.reduce((a, b) => Math.max(a, b), 1);
      for (let x = 0; x < columns; x++)
        for (let y = 0; y < levels; y++) {
          const share = Math.min(1, (counts[x * levels + y]! / most) ** 0.4);
          const at = ((levels - 1 - y) * columns * 3 + c * columns + x) * 4;
          for (let k = 0; k < 3; k++) image.data[at + k] = TINTS[c]![k]! * share;
          image.data[at + 3] = 255;
        }
    });
    canvas.current!.getContext('2d')!.putImageData(image, 0, 0);
  }, [scopes, columns, levels]);
  return (
    <canvas
      ref={canvas}
      className={styles.parade}
      width={columns * 3}
      height={levels}
      role="img"
      aria-label="Red, green and blue across the picture"
    />
  );
}

/** Hues: how far from grey, and towards which. */
export function Vector({ scopes }: { scopes: Measured | null }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    if (!scopes) return;
    const image = new ImageData(VECTOR, VECTOR);
    const most = scopes.vector.reduce((a, b) => Math.max(a, b), 1);
    for (let y = 0; y < VECTOR; y++)
      for (let x = 0; x < VECTOR; x++) {
        const share = Math.min(1, (scopes.vector[y * VECTOR + x]! / most) ** 0.3);
        const at = ((VECTOR - 1 - y) * VECTOR + x) * 4;
        const [cb, cr] = [x, y].map((v) => ((v + 0.5) / VECTOR - 0.5) * 2 * VECTOR_REACH) as [number, number];
        const hue = [0.55 + 1.5748 * cr, 0.55 - 0.1873 * cb - 0.4681 * cr, 0.55 + 1.8556 * cb];
        for (let k = 0; k < 3; k++) image.data[at + k] = 255 * share * Math.min(1, Math.max(0, hue[k]!));
        image.data[at + 3] = 255;
      }
    canvas.current!.getContext('2d')!.putImageData(image, 0, 0);
  }, [scopes]);
  return <canvas ref={canvas} className={styles.vector} width={VECTOR} height={VECTOR} role="img" aria-label="Hues of the picture" />;
}
