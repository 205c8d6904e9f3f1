'use client';

import { Button, Checkbox, Popconfirm } from 'antd';
import { useRef, useState } from 'react';
import { exposureOfImage, lightByImage, type TakenLight } from '../../core/rig';
import type { FoundSun, RemedyCode, SkyReport } from '../../core/image';
import { percent } from '../../core/units';
import { REMEDY_NAMES, type SkyImageView } from '../../core/api';
import { api, fileUrl } from '../api/client';
import { NumberRow } from '../desk/NumberRow';
import { grouped, kelvin, logarithmic, readable } from '../desk/quantity';
import { useStudioStore } from '../state/context';
import { useShownCue } from '../state/shownCue';
import { useTell } from '../state/useTell';
import { DomePreview } from './DomePreview';
import { FaceSwatches } from './FaceSwatches';
import { Histogram } from './Histogram';
import { useSkyDesk } from './skyDeskStore';
import type { useSkyShelf } from './useSkyShelf';
import styles from './skies.module.css';

/** Remedies of which only one can be taken. */
const EITHER: RemedyCode[][] = [
  ['fit-resample', 'fit-pad', 'fit-upper-half'],
  ['as-linear', 'as-srgb'],
];
const LUX = logarithmic('lx', 1, 200_000);
const KELVIN = kelvin(1500, 20_000);

type Shelf = ReturnType<typeof useSkyShelf>;

/** The image that lies open over the picture: what it is, what is wrong with it and what can be done, before and after. */
export function SkyDesk({ shelf, onReplace }: { shelf: Shelf; onReplace(file: File, imageId: string): void }) {
  const imageId = useSkyDesk((s) => s.imageId);
  const open = useSkyDesk((s) => s.open);
  const image = shelf.images.find((i) => i.id === imageId);
  if (!image) return null;
  return (
    <section className={styles.desk} aria-label="Sky image">
      <header>
        <b>{image.name}</b>
        <span>{image.fileName}</span>
        <Button size="small" type="text" onClick={() => open(null)} aria-label="Close the sky image">
          Close
        </Button>
      </header>
      <Opened image={image} shelf={shelf} onReplace={(file) => onReplace(file, image.id)} close={() => open(null)} />
    </section>
  );
}

function Opened({ image, shelf, onReplace, close }: { image: SkyImageView; shelf: Shelf; onReplace(file: File): void; close(): void }) {
  const chooser = useRef<HTMLInputElement>(null);
  const store = useStudioStore();
  const tell = useTell();
  const { cue, change } = useShownCue();
  const [take, setTake] = useState<TakenLight>({ sun: true, exposure: true });
  const { report, original, remedies } = image;
  const busy = image.state === 'waiting' || image.state === 'reading';

  const set = (next: RemedyCode[], options = image.options) => shelf.change(image.id, { remedies: next, options }).catch(tell.fault);
  const toggle = (code: RemedyCode) => {
    if (remedies.includes(code)) return set(remedies.filter((r) => r !== code));
    const rivals = EITHER.find((group) => group.includes(code)) ?? [];
    const next = [...remedies.filter((r) => !rivals.includes(r)), code];
    const options = code === 'calibrate' && image.options.levelLux === undefined ? { ...image.options, levelLux: 60_000 } : image.options;
    return set(next, options);
  };
  const remove = () => api.deleteSky(store.getState().project.id, image.id).then(shelf.again).then(close).catch(tell.fault);

  if (image.state === 'failed') {
    return (
      <div className={styles.failed}>
        <p role="alert">{image.error}</p>
        <p>
          {remedies.length > 0 && (
            <Button size="small" onClick={() => set([])}>
              Undo the remedies
            </Button>
          )}{' '}
          <Button size="small" onClick={remove}>
            Remove from the shelf
          </Button>
        </p>
      </div>
    );
  }
  if (!report || !original)
    return (
      <p className={styles.busy} role="status">
        Reading the image …
      </p>
    );

  // What was wrong with it as it came, and what is still.
  const problems = [...original.problems, ...report.problems.filter((p) => !original.problems.some((o) => o.code === p.code))];
  const left = new Set(report.problems.map((p) => p.code));
  return (
    <>
      <div className={styles.pictures}>
        <Picture title="As it came" hash={image.beforeHash} report={original} />
        <Picture
          title={busy ? 'Working …' : remedies.length > 0 ? 'With its remedies' : 'As it is used'}
          hash={image.afterHash}
          report={report}
        />
      </div>
      <Facts report={report} />
      <div className={styles.columns}>
        <ul className={styles.problems} aria-label="What is wrong with it">
          {problems.length === 0 && <li data-left="false">Nothing is wrong with it.</li>}
          {problems.map((p) => (
            <li key={p.code} data-left={left.has(p.code) && p.remedies.length > 0} data-testid={`problem-${p.code}`}>
              {p.text}
              {p.remedies.length > 0 && !image.shipped && (
                <span className={styles.remedies}>
                  {p.remedies.map((code) => (
                    <Button
                      key={code}
                      size="small"
                      type={remedies.includes(code) ? 'primary' : 'default'}
                      aria-pressed={remedies.includes(code)}
                      disabled={busy}
                      onClick={() => toggle(code)}
                    >
                      {REMEDY_NAMES[code]}
                    </Button>
                  ))}
                </span>
              )}
            </li>
          ))}
        </ul>
        <div className={styles.side}>
          <div className={styles.reading}>
            <DomePreview hash={image.afterHash} />
            <FaceSwatches faces={report.ambient} />
          </div>
          <Histogram histogram={report.histogram} />
          {(remedies.includes('rebuild-sun') || remedies.includes('expand')) && (
            <Option
              label="Its sun"
              value={image.options.sunLux ?? report.sun?.lux ?? 90_000}
              quantity={LUX}
              onSet={(sunLux) => set(remedies, { ...image.options, sunLux })}
            />
          )}
          {(remedies.includes('rebuild-sun') || remedies.includes('expand')) && (
            <Option
              label="Its colour"
              value={image.options.sunKelvin ?? 5500}
              quantity={KELVIN}
              onSet={(sunKelvin) => set(remedies, { ...image.options, sunKelvin })}
            />
          )}
          {remedies.includes('calibrate') && (
            <Option
              label="Its level"
              value={image.options.levelLux ?? 60_000}
              quantity={LUX}
              onSet={(levelLux) => set(remedies, { ...image.options, levelLux })}
            />
          )}
        </div>
      </div>
      <div className={styles.take} role="group" aria-label="What the cue takes of it">
        <span>With its sky,</span>
        <Checkbox checked={take.sun} onChange={(event) => setTake({ ...take, sun: event.target.checked })}>
          {image.sun ? `its sun, ${readable(image.sun.lux)} lx, taken out of the image` : 'and no other sun'}
        </Checkbox>
        <Checkbox checked={take.exposure} onChange={(event) => setTake({ ...take, exposure: event.target.checked })}>
          {`exposure ${exposureOfImage(report).toFixed(1)} EV`}
        </Checkbox>
      </div>
      <footer>
        <Button
          size="small"
          type="primary"
          disabled={!image.wholeHash || busy}
          onClick={() => {
            const light = { id: image.id, illuminanceLux: report.illuminanceLux, sun: image.sun };
            change(`light of ${image.name}`, (c) => lightByImage(c, light, take));
            close();
          }}
        >
          Use in {cue.name}
        </Button>
        {!image.shipped && (
          <Button size="small" onClick={() => shelf.change(image.id, { house: !image.house }).catch(tell.fault)}>
            {image.house ? 'Keep for this project alone' : 'Keep for all projects'}
          </Button>
        )}
        {image.shipped ? (
          <Button
            size="small"
            onClick={() =>
              api
                .copySky(store.getState().project.id, image.id)
                .then(async ({ id }) => {
                  await shelf.again();
                  useSkyDesk.getState().open(id);
                })
                .catch(tell.fault)
            }
          >
            Make a copy to change
          </Button>
        ) : (
          <>
            <Button size="small" disabled={busy} onClick={() => chooser.current!.click()}>
              Replace the file
            </Button>
            <input
              ref={chooser}
              type="file"
              hidden
              data-testid="sky-replacement"
              onChange={(event) => {
                const file = event.currentTarget.files?.[0];
                event.currentTarget.value = '';
                if (file) onReplace(file);
              }}
            />
            <Popconfirm title={`Delete ${image.name} from the shelf?`} okText="Delete" onConfirm={remove}>
              <Button size="small">Delete</Button>
            </Popconfirm>
          </>
        )}
        {!image.wholeHash && !busy && <span className={styles.note}>Not fit to be a sky yet: apply a remedy first.</span>}
      </footer>
    </>
  );
}

/** A number of a remedy; it is set when the hand lets go, for the image is read again then. */
function Option({ label, value, quantity, onSet }: { label: string; value: number; quantity: typeof LUX; onSet(value: number): void }) {
  const [held, setHeld] = useState<number | null>(null);
  const settle = () => {
    if (held !== null && held !== value) onSet(held);
    setHeld(null);
  };
  return (
    <div onPointerUp={settle} onKeyUp={(event) => event.key === 'Enter' && settle()} onBlur={settle}>
      <NumberRow label={label} value={held ?? value} preset={value} quantity={quantity} onChange={setHeld} />
    </div>
  );
}

function Picture({ title, hash, report: { sun, width, height } }: { title: string; hash: string | null; report: SkyReport }) {
  const isRound = Math.abs(width / height - 2) < 0.02;
  return (
    <figure className={styles.picture}>
      <div>
        {hash && <img src={fileUrl(hash, 'picture')} alt={title} />}
        {sun && isRound && (
          <svg viewBox="0 0 360 180" preserveAspectRatio="none" aria-label="Its sun">
            <circle cx={(sun.azimuthDeg + 180) % 360} cy={90 - sun.elevationDeg} r={6} />
          </svg>
        )}
      </div>
      <figcaption>{title}</figcaption>
    </figure>
  );
}

function Facts({ report }: { report: SkyReport }) {
  const { sun, spot } = report;
  const at = ({ azimuthDeg, elevationDeg }: FoundSun) => `${azimuthDeg.toFixed(1)}° / ${elevationDeg.toFixed(1)}°`;
  return (
    <p className={styles.facts}>
      {report.format.toUpperCase()}, {report.width} × {report.height}
      {report.reducedFrom ? ` (of ${report.reducedFrom.width} × ${report.reducedFrom.height})` : ''}, {report.bits} bits,{' '}
      {report.encoding === 'srgb' ? 'sRGB' : 'linear'}, {report.isHdr ? 'HDR' : 'LDR'}. {readable(report.illuminanceLux)} lx on level
      ground; luminance {readable(report.mean)} on the mean, up to {readable(report.max)} cd/m².{' '}
      {sun
        ? `Its sun stands at ${at(sun)}, with ${readable(sun.lux)} lx${sun.kelvin ? ` at ${grouped(Math.round(sun.kelvin / 50) * 50)} K` : ''}.`
        : spot
          ? `Its brightest spot, at ${at(spot)}, gives ${percent(spot.share)} of the light: it is not taken for a sun.`
          : 'No sun stands out in it.'}
    </p>
  );
}
