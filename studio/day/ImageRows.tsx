import { Select } from 'antd';
import { useRef, useState } from 'react';
import {
  exposureOfImage,
  hasTwoSuns,
  holdImage,
  lightByImage,
  takeImageSun,
  yawToSun,
  type Cue,
  type HeldImage,
  type ImageLevel,
  type Lighting,
} from '../../core/rig';
import { luminance } from '../../core/units';
import { fileUrl } from '../api/client';
import { ColorRow } from '../desk/ColorRow';
import { ActionRow } from '../desk/ActionRow';
import { PickRow } from '../desk/PickRow';
import { SwitchRow } from '../desk/SwitchRow';
import { NumberRow } from '../desk/NumberRow';
import { linear, logarithmic, readable } from '../desk/quantity';
import { CatalogueList } from '../skies/CatalogueList';
import { useSkyDesk } from '../skies/skyDeskStore';
import type { useSkyShelf } from '../skies/useSkyShelf';
import type { ChangeCue } from '../state/useRigEdit';
import day from './day.module.css';
import styles from '../desk/desk.module.css';

const YAW = linear('°', 0, 360, 0.5, 1, 360);
const LUX = logarithmic('lx', 0.001, 200_000, { zero: true });
const EV = linear('EV', -12, 12, 1 / 3, 2);
const SATURATION = linear('', 0, 2, 0.01, 2);

const LEVELS: { value: ImageLevel['by']; label: string; title: string }[] = [
  { value: 'itself', label: 'Own', title: 'As strong as the image is' },
  { value: 'lux', label: 'Lux', title: 'Illuminance on level ground' },
  { value: 'air', label: 'Air', title: 'As strong as the sky that the air gives at this hour' },
  { value: 'ev', label: 'EV', title: 'Stops over its own strength' },
];

interface Props {
  cue: Cue;
  shelf: ReturnType<typeof useSkyShelf>;
  lighting: Lighting;
  change: ChangeCue;
  onFiles(files: File[]): void;
}

/** The image that makes the cue's sky: which one, how strong, which way it faces, and what becomes of its sun. */
export function ImageRows({ cue, shelf, lighting, change, onFiles }: Props) {
  const held = cue.holds.image;
  const chooser = useRef<HTMLInputElement>(null);
  const [listed, setListed] = useState(false);
  const open = useSkyDesk((s) => s.open);
  const image = shelf.images.find((i) => i.id === held?.imageId);
  const part = lighting.skyOverFog.find((p) => p.sky.kind === 'image')?.sky;
  const gain = part?.kind === 'image' ? luminance(part.gain) : 1;
  const sunUp = lighting.suns.find((s) => s.kind === 'sun');
  const ready = shelf.images.filter((i) => i.wholeHash);

  const set = (what: string, to: Partial<HeldImage>, key?: string) => change(what, (c) => void Object.assign(c.holds.image!, to), key);

  return (
    <>
      {listed && <CatalogueList cue={cue} shelf={shelf} change={change} onClose={() => setListed(false)} />}
      <div className={styles.pick}>
        <span id="sky-image">Image</span>
        <Select
          aria-labelledby="sky-image"
          size="small"
          style={{ width: 190 }}
          popupMatchSelectWidth={280}
          value={image?.id}
          placeholder={ready.length > 0 ? 'Of the shelf' : 'None on the shelf yet'}
          showSearch={{ filterOption: (text, option) => String(option?.title).toLowerCase().includes(text.toLowerCase()) }}
          options={ready.map((i) => ({
            value: i.id,
            title: [i.name, ...i.tags].join(' '),
            label: (
              <span className={styles.twoEnds}>
                <span className={day.shelved}>
                  {i.afterHash && <img src={fileUrl(i.afterHash, 'picture')} alt="" />}
                  {i.name}
                </span>
                <span>{i.shipped ? 'Basil' : i.house ? 'all projects' : ''}</span>
              </span>
            ),
          }))}
          onChange={(id) => change(`sky ${ready.find((i) => i.id === id)!.name}`, (c) => holdImage(c, { id }))}
        />
      </div>
      {image?.afterHash && (
        <button type="button" className={day.skyPicture} onClick={() => open(image.id)} aria-label={`Look ${image.name} over`}>
          <img src={fileUrl(image.afterHash, 'picture')} alt="" />
          <span>{image.report?.problems.some((p) => p.remedies.length > 0) ? 'something is wrong: look it over' : 'look it over'}</span>
        </button>
      )}
      <div className={styles.pick}>
        <span>{held && !image ? 'No longer on the shelf' : 'Or drop one, or six faces, or from'}</span>
        <span className={day.today}>
          <button type="button" className={styles.quiet} onClick={() => setListed(true)}>
            collections
          </button>
          <button type="button" className={styles.quiet} onClick={() => chooser.current!.click()}>
            file
          </button>
        </span>
        <input
          ref={chooser}
          type="file"
          multiple
          hidden
          data-testid="sky-file"
          onChange={(event) => {
            const files = [...(event.currentTarget.files ?? [])];
            event.currentTarget.value = '';
            if (files.length > 0) onFiles(files);
          }}
        />
      </div>
      {held && image?.report && held.sun === 'left' && (
        <ActionRow
          label={`Its light: ${image.sun ? `sun ${readable(image.sun.lux)} lx` : 'no sun'}, exposure ${exposureOfImage(image.report).toFixed(1)} EV`}
          action="use all three"
          title="Sun, sky and exposure of the image together; its sun is then counted once"
          onClick={() =>
            change(`light of ${image.name}`, (c) =>
              lightByImage(
                c,
                { id: image.id, illuminanceLux: image.report!.illuminanceLux, sun: image.sun },
                { sun: true, exposure: true },
              ),
            )
          }
        />
      )}
      {held && image && (
        <>
          <SwitchRow
            label="Behind the air, turning with the stars"
            name="Behind the air"
            on={held.behind === true}
            onChange={(behind) => set(behind ? 'sky behind the air' : 'sky in place of the air', { behind })}
          />
          <PickRow
            label="Level"
            value={held.level.by}
            options={LEVELS}
            onChange={(by) => {
              const lux = Number((image.report!.illuminanceLux * gain).toPrecision(3));
              const level: ImageLevel = by === 'lux' ? { by, lux } : by === 'ev' ? { by, ev: 0 } : { by: by as 'itself' | 'air' };
              set(`sky level by ${by}`, { level });
            }}
          />
          {held.level.by === 'lux' && (
            <NumberRow
              label="Sky's light"
              value={held.level.lux}
              preset={image.report!.illuminanceLux}
              quantity={LUX}
              hint="On level ground, from the image alone"
              onChange={(lux) => set(`sky at ${LUX.format(lux)} lx`, { level: { by: 'lux', lux } }, 'image level')}
            />
          )}
          {held.level.by === 'ev' && (
            <NumberRow
              label="Stops"
              value={held.level.ev}
              preset={0}
              quantity={EV}
              hint="Over the image's own strength"
              onChange={(ev) => set(`sky ${EV.format(ev)} EV`, { level: { by: 'ev', ev } }, 'image level')}
            />
          )}
          <NumberRow
            label="Yaw"
            value={held.yawDeg}
            preset={0}
            quantity={YAW}
            hint="Azimuth that the middle of the image faces"
            onChange={(yawDeg) => set(`sky turned to ${YAW.format(yawDeg)}°`, { yawDeg }, 'image yaw')}
          />
          <ColorRow label="Tint" value={held.tint} preset="#ffffff" onChange={(tint) => set(`sky tint ${tint}`, { tint }, 'image tint')} />
          <NumberRow
            label="Saturation"
            value={held.saturation}
            preset={1}
            quantity={SATURATION}
            onChange={(saturation) => set(`sky saturation ${SATURATION.format(saturation)}`, { saturation }, 'image saturation')}
          />
          <NumberRow
            label="Shown"
            value={held.shownEv}
            preset={0}
            quantity={EV}
            hint="Stops by which it is shown brighter than it lights"
            onChange={(shownEv) => set(`sky shown ${EV.format(shownEv)} EV`, { shownEv }, 'image shown')}
          />
          {held.shownEv !== 0 && (
            <p className={day.facts}>
              Shown {Math.abs(held.shownEv).toFixed(2)} EV {held.shownEv > 0 ? 'brighter' : 'darker'} than it lights
            </p>
          )}
          {image.sun && (
            <>
              <div className={styles.pick}>
                <span>
                  Its sun, {readable(image.sun.lux * gain)} lx{image.sun.kelvin ? ` at ${Math.round(image.sun.kelvin / 50) * 50} K` : ''}
                </span>
                {held.sun === 'taken' ? (
                  <button type="button" className={styles.quiet} onClick={() => set('the image’s sun left in it', { sun: 'left' })}>
                    put it back
                  </button>
                ) : (
                  <button
                    type="button"
                    className={styles.quiet}
                    onClick={() => change('the image’s sun taken out', (c) => takeImageSun(c, image.sun!, gain))}
                  >
                    make it the cue’s
                  </button>
                )}
              </div>
              <ActionRow
                label="Turn the image"
                action="until its sun stands over the cue’s"
                disabled={!sunUp}
                onClick={() => set('sky turned to the sun', { yawDeg: yawToSun(image.sun!, sunUp!.azimuthDeg) })}
              />
              {hasTwoSuns(held, lighting.suns) && (
                <p className={day.warning} role="status">
                  Two suns: the one in the image and the cue’s both light the level
                </p>
              )}
            </>
          )}
          {lighting.missing.includes(held.imageId) && (
            <p className={day.facts} role="status">
              Reading the image; the air stands in for it
            </p>
          )}
        </>
      )}
    </>
  );
}
