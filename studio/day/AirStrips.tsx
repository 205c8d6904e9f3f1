'use client';

import { useEffect, useRef, useState } from 'react';
import type { Air } from '../../core/sky';
import { useAsk } from './useAsk';
import styles from './day.module.css';

const SUN_HEIGHTS = [60, 20, 5, -1, -6];
const ROWS = 24;

/** What an air looks like: strips of its sky, zenith to horizon, at five heights of the sun; drawn anew as its values move. */
export function AirStrips({ air }: { air: Air }) {
  const ask = useAsk();
  const [strips, setStrips] = useState<Uint8ClampedArray<ArrayBuffer>[]>([]);
  useEffect(() => {
    ask({ kind: 'strips', air, sunHeights: SUN_HEIGHTS, rows: ROWS }, (answer) => 'strips' in answer && setStrips(answer.strips));
  }, [air, ask]);
  return (
    <div className={styles.strips}>
      {SUN_HEIGHTS.map((height, i) => (
        <figure key={height}>
          <Strip pixels={strips[i]} label={`Sky under a sun at ${height}°`} />
          <figcaption>{String(height).replace('-', '−')}°</figcaption>
        </figure>
      ))}
    </div>
  );
}

function Strip({ pixels, label }: { pixels: Uint8ClampedArray<ArrayBuffer> | undefined; label: string }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    if (pixels) canvas.current!.getContext('2d')!.putImageData(new ImageData(pixels, 1, ROWS), 0, 0);
  }, [pixels]);
  return <canvas ref={canvas} width={1} height={ROWS} role="img" aria-label={label} />;
}
