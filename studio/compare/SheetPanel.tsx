'use client';

import { Button } from 'antd';
import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import { lostShares } from '../../core/compare';
import { grouped } from '../desk/quantity';
import { useTell } from '../state/useTell';
import { pngOf } from '../viewport/renderer/pngOf';
import { useView } from '../viewport/viewStore';
import { saveSheet } from './saveSheet';
import { ASPECT, bestColumns } from './sheetLayout';
import { closeSheet, putPicture, useSheet, type Sheet } from './sheetStore';
import styles from './compare.module.css';

/** Pixels of a picture to each of those it is shown at: enough for a sheet that is saved. */
const WIDTH = 480;

/** The sheet over the picture: its pictures, each with its words, made one after another. */
export function SheetPanel() {
  const sheet = useSheet((s) => s.sheet);
  return sheet && <OpenSheet key={sheet.id} sheet={sheet} />;
}

function OpenSheet({ sheet }: { sheet: Sheet }) {
  const { fault } = useTell();
  const area = useRef<HTMLDivElement>(null);
  const [{ columns, pictureWidth }, setLaid] = useState({ columns: 1, pictureWidth: 0 });
  const { cells, made, title, take } = sheet;
  useMadePictures(sheet);
  useLayoutEffect(() => {
    const lay = () => {
      const { clientWidth, clientHeight } = area.current!;
      setLaid(bestColumns(cells.length, clientWidth, clientHeight));
    };
    lay();
    window.addEventListener('resize', lay);
    return () => window.removeEventListener('resize', lay);
  }, [cells.length]);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => event.key === 'Escape' && closeSheet();
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
  const done = made.filter(Boolean).length;
  return (
    <section className={styles.sheet} aria-label={title} data-made={done}>
      <header>
        <strong>{title}</strong>
        <span role="status">{done < cells.length ? `${done} of ${cells.length} pictures` : take ? 'A click takes one' : ''}</span>
        <Button size="small" disabled={done < cells.length} onClick={() => saveSheet(sheet).catch(fault)}>
          Save as PNG
        </Button>
        <Button size="small" onClick={closeSheet}>
          Close
        </Button>
      </header>
      <div ref={area} className={styles.cells} style={{ gridTemplateColumns: `repeat(${columns}, ${pictureWidth}px)` }}>
        {cells.map(({ label, note }, i) => (
          <figure key={i}>
            <button
              type="button"
              style={{ aspectRatio: `${ASPECT}` }}
              disabled={!take || !made[i]}
              aria-label={`${label} ${note}`}
              onClick={() => take?.(i)}
            >
              {made[i] && <img src={made[i].url} alt={`${label} ${note}`} draggable={false} />}
            </button>
            <figcaption>
              <b>{label}</b> <span>{note}</span>
              {sheet.tellsLost && made[i] && (
                <span>
                  burnt {grouped(made[i].lost.burnt * 100, 1)} %, black {grouped(made[i].lost.black * 100, 1)} %
                </span>
              )}
            </figcaption>
          </figure>
        ))}
      </div>
    </section>
  );
}

/** Makes the pictures of a sheet, one a frame. */
function useMadePictures({ id, cells }: Sheet): void {
  const { fault } = useTell();
  useEffect(() => {
    let frame = 0;
    let ended = false;
    const height = Math.round(WIDTH / ASPECT);
    const make = async (i: number) => {
      const { picture, vantage } = useView.getState();
      if (ended || i >= cells.length || !picture || !vantage) return;
      const { lighting, from } = cells[i]!;
      const pixels = picture(lighting, WIDTH, height, from ?? vantage());
      const url = URL.createObjectURL(await pngOf(pixels, WIDTH, height));
      putPicture(id, i, { url, lost: lostShares(pixels) });
      frame = requestAnimationFrame(() => void make(i + 1).catch(fault));
    };
    frame = requestAnimationFrame(() => void make(0).catch(fault));
    return () => {
      ended = true;
      cancelAnimationFrame(frame);
    };
    // The pictures that are made change the sheet, not what is to be made.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [id, fault]);
}
