import { memo } from 'react';
import { openGroundLight, type Cue, type Lighting } from '../../core/rig';
import { luminance } from '../../core/units';
import { NumberRow } from '../desk/NumberRow';
import { grouped, linear, readable } from '../desk/quantity';
import { Section } from '../desk/Section';
import type { ChangeCue } from '../state/useRigEdit';
import day from './day.module.css';

const STOPS = linear('EV', -4, 4, 0.1, 1);
const SATURATION = linear('', 0, 2, 0.01, 2);

/** Sun and shade that differ by less than this look flat, EV. */
const FLAT_EV = 0.5;
/** Shade on open ground under this is not read in a game where players must see one another, stops under what mid-grey is exposed for. */
const UNREAD_EV = -5;

/** How deep the shade is: stops between it and the sun, and the sky's own colours. */
export const ShadeSection = memo(function ShadeSection({ cue, lighting, change }: { cue: Cue; lighting: Lighting; change: ChangeCue }) {
  /** What changes nothing is not held. */
  const hold = (key: 'shadeEv' | 'skySaturation', value: number, neutral: number, what: string) =>
    change(
      what,
      ({ holds }) => {
        if (value === neutral) delete holds[key];
        else holds[key] = value;
      },
      key,
    );
  const { sun, sky } = openGroundLight(lighting);
  const [sunLux, skyLux] = [luminance(sun) * lighting.mix.sun[1], Math.max(0, luminance(sky)) * lighting.mix.sky[1]];
  const depth = skyLux > 0 ? Math.log2((sunLux + skyLux) / skyLux) : 0;
  const { lowEv, highEv } = lighting.exposure;
  const shadeEv = lowEv === highEv && skyLux > 0 ? Math.log2(skyLux / 2.5) - lowEv : null;
  const remark =
    sunLux > 0 && depth < FLAT_EV
      ? 'Sun and shade are alike: the level will look flat'
      : shadeEv !== null && shadeEv < UNREAD_EV
        ? `Open shade lies ${grouped(-shadeEv, 1)} EV under the exposure: players in it will not be seen`
        : null;
  return (
    <Section title="Shade" note={sunLux > 0 ? `${grouped(depth, 1)} EV under the sun` : 'no sun'}>
      <NumberRow
        label="Lighter shade"
        value={cue.holds.shadeEv ?? 0}
        preset={0}
        quantity={STOPS}
        hint="Stops by which shade is lighter against the sun; the light of open ground stays"
        onChange={(v) => hold('shadeEv', v, 0, `shade ${STOPS.format(v)} EV`)}
      />
      <NumberRow
        label="Sky’s colour"
        value={cue.holds.skySaturation ?? 1}
        preset={1}
        quantity={SATURATION}
        hint="0 grey, 1 as it is; what it lights goes with it"
        onChange={(v) => hold('skySaturation', v, 1, `sky’s colour ${SATURATION.format(v)}`)}
      />
      <p className={day.facts}>
        Open ground: {readable(sunLux + skyLux)} lx sunlit, {readable(skyLux)} lx in open shade
      </p>
      {remark && (
        <p className={day.warning} role="status">
          {remark}
        </p>
      )}
    </Section>
  );
});
