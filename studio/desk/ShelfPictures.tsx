import { useEffect, useRef, useState } from 'react';
import type { Lighting } from '../../core/rig';
import { useView } from '../viewport/viewStore';
import styles from './desk.module.css';

/** Pixels of one small picture. */
const SIZE = { width: 140, height: 92 };
/** The desk and the picture come first: small pictures are drawn one by one with pauses between. */
const PAUSE_MS = 60;
const REST_MS = 400;

export interface Shelved {
  id: string;
  name: string;
  /** The light of the moment under it. */
  lighting(): Lighting;
}

interface Props {
  /** What the pictures are of, for whoever cannot see them. */
  label: string;
  items: readonly Shelved[];
  chosen: string | null;
  /** Changes where the pictures are others. */
  of: unknown;
  onTake(id: string): void;
}

/** The present view under each thing of a shelf, to choose by looking. */
export function ShelfPictures({ label, items, chosen, of, onTake }: Props) {
  const picture = useView((s) => s.picture);
  const [urls, setUrls] = useState<ReadonlyMap<string, string>>(new Map());
  const latest = useRef(items);
  useEffect(() => {
    latest.current = items;
  });

  useEffect(() => {
    if (!picture) return;
    let [next, at]: [ReturnType<typeof setTimeout>, number] = [setTimeout(() => draw(), REST_MS), 0];
    function draw() {
      const item = latest.current[at++];
      if (!item || !picture) return;
      const canvas = document.createElement('canvas');
      Object.assign(canvas, SIZE);
      canvas
        .getContext('2d')!
        .putImageData(new ImageData(picture(item.lighting(), SIZE.width, SIZE.height), SIZE.width, SIZE.height), 0, 0);
      setUrls((before) => new Map(before).set(item.id, canvas.toDataURL('image/png')));
      next = setTimeout(draw, PAUSE_MS);
    }
    return () => clearTimeout(next);
  }, [picture, of]);

  return (
    <div className={styles.shelfPictures} role="group" aria-label={label}>
      {items.map(({ id, name }) => (
        <button key={id} type="button" aria-pressed={id === chosen} onClick={() => onTake(id)}>
          {urls.has(id) ? <img src={urls.get(id)} alt="" /> : <i />}
          <span>{name}</span>
        </button>
      ))}
    </div>
  );
}
