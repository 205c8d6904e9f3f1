'use client';

import { useEffect, useRef } from 'react';
import { fileUrl } from '../api/client';
import { domeView } from './domeView';
import styles from './skies.module.css';

const SIZE = 96;

/** A sky image as the dome seen from above, for placing it against the day's path. */
export function DomePreview({ hash }: { hash: string | null }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    if (!hash) return;
    const picture = new Image();
    picture.onload = () => {
      const whole = new OffscreenCanvas(picture.naturalWidth, picture.naturalHeight);
      const context = whole.getContext('2d')!;
      context.drawImage(picture, 0, 0);
      const pixels = context.getImageData(0, 0, whole.width, whole.height);
      canvas.current?.getContext('2d')!.putImageData(new ImageData(domeView(pixels, SIZE), SIZE, SIZE), 0, 0);
    };
    picture.src = fileUrl(hash, 'picture');
    return () => {
      picture.onload = null;
    };
  }, [hash]);
  return (
    <figure className={styles.dome}>
      <canvas ref={canvas} width={SIZE} height={SIZE} role="img" aria-label="The sky dome from above, north up" />
      <figcaption>from above</figcaption>
    </figure>
  );
}
