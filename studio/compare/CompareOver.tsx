'use client';

import { DIFFERENCE_BANDS, EV_ZONES } from '../../core/compare';
import { MID_GREY } from '../../core/grade';
import { whiteLuminance } from '../../core/units';
import { WipeLine } from '../desk/WipeLine';
import { readable } from '../desk/quantity';
import { useMeter } from '../viewport/meter/meterStore';
import { useStudio } from '../state/context';
import { currentStroll } from '../state/studioStore';
import { usePlan } from '../viewport/planStore';
import { isMakingWay, useStrollTool } from '../viewport/walking/strollTool';
import { useCompare } from './compareStore';
import { useSideNames } from './useSideNames';
import styles from './compare.module.css';

/** Over the picture in the Compare room: the names of the two sides, the line between them, and what colours stand for. */
export function CompareOver() {
  const layout = useCompare((s) => s.layout);
  const look = useCompare((s) => s.look);
  const [first, second] = useSideNames();
  const isPlan = usePlan((s) => s.on);
  const showsFirst = look === 'difference' || layout !== 'second';
  const showsSecond = look === 'difference' || layout !== 'first';
  const reference = useCompare((s) => s.reference);
  const at = useCompare((s) => s.at);
  const laid = look !== 'difference' && layout !== 'first' ? reference : null;
  const isWhole = useStudio((s) => currentStroll(s) !== null);
  const isMade = useStrollTool(isMakingWay);
  // From straight above, and on a stroll, there is one picture.
  if (isPlan || isWhole || isMade) return null;
  return (
    <>
      {laid && (
        <div
          className={layout === 'beside' ? styles.referenceBeside : styles.reference}
          style={layout === 'wipe' ? { clipPath: `inset(0 0 0 ${at * 100}%)` } : undefined}
        >
          {/* A picture of the visitor's own disk: there is nothing for an image service to do. */}
          <img src={look === 'zones' ? laid.zonesUrl : laid.url} alt={laid.name} draggable={false} />
        </div>
      )}
      {look !== 'difference' && layout === 'wipe' && (
        <WipeLine at={at} label="Line between A and B" onChange={(to) => useCompare.setState({ at: to })} />
      )}
      {look !== 'difference' && layout === 'beside' && <span className={styles.middle} />}
      {showsFirst && (
        <span className={styles.first}>
          <b>A</b> {first}
        </span>
      )}
      {showsSecond && (
        <span className={styles.second}>
          <b>B</b> {laid ? laid.name : second}
        </span>
      )}
      {look === 'zones' && <ZoneLegend />}
      {look === 'difference' && <DifferenceLegend />}
    </>
  );
}

const signed = (stop: number) => (stop > 0 ? `+${stop}` : String(stop).replace('-', '−'));

/** The zones with their stops about mid-grey, and the luminances that those are at the first side's exposure. */
function ZoneLegend() {
  const ev100 = useMeter((m) => m.ev100);
  const layout = useCompare((s) => s.layout);
  const measured = useCompare((s) => s.measured);
  const ev = layout === 'second' ? (measured?.sides[1].ev100 ?? ev100) : ev100;
  const grey = MID_GREY * whiteLuminance(ev);
  return (
    <ol className={styles.legend} aria-label="EV zones about mid-grey">
      {EV_ZONES.map(({ stop, color }, i) => (
        <li key={color}>
          <i style={{ background: color }} />
          <b>{stop === null ? (i === 0 ? 'less' : '> white') : stop === 0 ? 'grey' : signed(stop)}</b>
          <span>{stop === null ? '' : readable(grey * 2 ** stop)}</span>
        </li>
      ))}
      <li className={styles.unit}>
        <b>EV</b>
        <span>cd/m²</span>
      </li>
    </ol>
  );
}

const BAND_TEXT = ['', '⅙', '½', '1', '2', '4'];

function DifferenceLegend() {
  const ofLight = useCompare((s) => s.ofLight);
  const darker = DIFFERENCE_BANDS.slice(1).toReversed();
  return (
    <ol className={styles.legend} aria-label="Stops by which B differs from A">
      <li className={styles.unit}>
        <b>B darker</b>
        <span>EV</span>
      </li>
      {darker.map((band, i) => (
        <li key={band.darker}>
          <i style={{ background: band.darker }} />
          <b>−{BAND_TEXT[DIFFERENCE_BANDS.length - 1 - i]}</b>
        </li>
      ))}
      <li>
        <i style={{ background: DIFFERENCE_BANDS[0]!.brighter }} />
        <b>alike</b>
      </li>
      {DIFFERENCE_BANDS.slice(1).map((band, i) => (
        <li key={band.brighter}>
          <i style={{ background: band.brighter }} />
          <b>+{BAND_TEXT[i + 1]}</b>
        </li>
      ))}
      <li className={styles.unit}>
        <b>B brighter</b>
        <span>{ofLight ? 'of the light' : 'as exposed'}</span>
      </li>
    </ol>
  );
}
