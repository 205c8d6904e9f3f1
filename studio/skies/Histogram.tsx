import { area, curveStepAfter, scaleLinear } from 'd3';
import type { SkyReport } from '../../core/image';
import styles from './skies.module.css';

const [WIDTH, HEIGHT] = [250, 62];

/** How an image's solid angle is spread over luminance, in EV100; the sky's few brightest parts are lifted by a square root. */
export function Histogram({ histogram: { from, shares } }: { histogram: SkyReport['histogram'] }) {
  const filled = shares.map((s, i) => (s > 0 ? i : -1)).filter((i) => i >= 0);
  const [first, last] = [Math.max(0, (filled[0] ?? 0) - 2), Math.min(shares.length, (filled.at(-1) ?? 1) + 3)];
  const ev = (i: number) => from + i / 2;
  const x = scaleLinear([ev(first), ev(last)], [0, WIDTH]);
  const y = scaleLinear([0, Math.sqrt(Math.max(...shares, 1e-6))], [HEIGHT - 16, 2]);
  const shape = area<number>()
    .x((_, i) => x(ev(first + i)))
    .y0(HEIGHT - 16)
    .y1((s) => y(Math.sqrt(s)))
    .curve(curveStepAfter);
  return (
    <svg width={WIDTH} height={HEIGHT} role="img" aria-label="How its light is spread over brightness, in EV100">
      <path d={shape(shares.slice(first, last)) ?? undefined} className={styles.bars} />
      {x
        .ticks(5)
        .filter((t) => x(t) > 8 && x(t) < WIDTH - 28)
        .map((t) => (
          <text key={t} x={x(t)} y={HEIGHT - 3} className={styles.tick}>
            {String(t).replace('-', '−')}
          </text>
        ))}
      <text x={WIDTH} y={HEIGHT - 3} className={styles.unit}>
        EV
      </text>
    </svg>
  );
}
