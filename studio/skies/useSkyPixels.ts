import { useEffect, useRef } from 'react';
import type { SkyImages } from '../../core/rig';
import type { Panorama } from '../../core/sky';
import type { SkyImageView } from '../../core/api';
import { fileUrl } from '../api/client';
import { useStudio, useStudioStore } from '../state/context';
import type { PixelsAnswer, PixelsAsked, ShownSky } from './pixels.worker';

/** What is shown for an image that lights: its finer pixels. */
const shown = new WeakMap<Panorama, ShownSky>();
export const shownSky = (small: Panorama): ShownSky | null => shown.get(small) ?? null;

/** Fetches the images that the cues hold and hands their pixels to the store, where the light is made from them. */
export function useSkyPixels(images: SkyImageView[], fault: (error: unknown) => void): void {
  const store = useStudioStore();
  const used = useStudio((s) => [...new Set(s.rig.cues.flatMap((c) => c.holds.image?.imageId ?? []))].sort().join());
  const kept = useRef(new Map<string, Promise<Panorama>>());
  const worker = useRef<ReturnType<typeof startWorker> | null>(null);

  useEffect(
    () => () => {
      worker.current?.worker.terminate();
      worker.current = null;
    },
    [],
  );

  const wanted = images
    .filter((i) => used.split(',').includes(i.id) && i.wholeHash)
    .map((i) => `${i.id} ${i.wholeHash} ${i.restHash ?? ''}`)
    .join('\n');
  useEffect(() => {
    let current = true;
    const fetchPixels = (hash: string): Promise<Panorama> => {
      const known = kept.current.get(hash);
      if (known) return known;
      worker.current ??= startWorker();
      const { worker: own, waiting } = worker.current;
      const id = ++worker.current.asked;
      const got = new Promise<Panorama>((resolve, reject) => {
        waiting.set(id, (answer) => {
          waiting.delete(id);
          if ('fault' in answer) return reject(new Error(`The sky image could not be fetched: ${answer.fault}.`));
          shown.set(answer.light, answer.shown);
          resolve(answer.light);
        });
        own.postMessage({ id, url: fileUrl(hash, 'sky') } satisfies PixelsAsked);
      });
      got.catch(() => kept.current.delete(hash));
      kept.current.set(hash, got);
      return got;
    };
    const load = async (): Promise<SkyImages> => {
      const rows = wanted === '' ? [] : wanted.split('\n').map((row) => row.split(' ') as [string, string, string]);
      return new Map(
        await Promise.all(
          rows.map(
            async ([id, whole, rest]) => [id, { whole: await fetchPixels(whole), rest: rest ? await fetchPixels(rest) : null }] as const,
          ),
        ),
      );
    };
    // What no cue holds any more is let go: a large one takes tens of megabytes.
    const hashes = new Set(wanted.split(/\s/));
    for (const hash of kept.current.keys()) if (!hashes.has(hash)) kept.current.delete(hash);
    load().then(
      (pixels) => current && store.setState({ images: pixels }),
      (error: unknown) => current && fault(error),
    );
    return () => {
      current = false;
    };
  }, [wanted, store, fault]);
}

function startWorker() {
  const worker = new Worker(new URL('./pixels.worker.ts', import.meta.url), { type: 'module' });
  const waiting = new Map<number, (answer: PixelsAnswer) => void>();
  worker.onmessage = ({ data }: MessageEvent<PixelsAnswer>) => waiting.get(data.id)?.(data);
  return { worker, waiting, asked: 0 };
}
