import { memo } from 'react';
import { fixedExposure, type Cue, type Exposure } from '../../core/rig';
import { ActionRow } from '../desk/ActionRow';
import { PickRow } from '../desk/PickRow';
import { NumberRow } from '../desk/NumberRow';
import { exposureValue, grouped } from '../desk/quantity';
import { Section } from '../desk/Section';
import { useMeter } from '../viewport/meter/meterStore';
import type { ChangeCue } from '../state/useRigEdit';
import day from './day.module.css';

const EV = exposureValue(-10, 25);
/** Automatic exposure that differs from the open ground's by more than this is worth a word. */
const HIDING_EV = 1.5;

/** The bounds of automatic exposure; they stay a third of a stop apart, for equal ones would be a fixed exposure. */
const BOUNDS = [
  {
    label: 'Lowest',
    key: 'lowEv',
    hint: 'Never exposed for darker than this',
    bounded: (v: number, e: Exposure) => Math.min(v, e.highEv - 1 / 3),
  },
  {
    label: 'Highest',
    key: 'highEv',
    hint: 'Never exposed for brighter than this',
    bounded: (v: number, e: Exposure) => Math.max(v, e.lowEv + 1 / 3),
  },
] as const;

interface Props {
  cue: Cue;
  /** What cues that hold none are exposed by. */
  byRig: Exposure;
  change: ChangeCue;
}

/** Exposure of the cue: fixed, or automatic within bounds, with a word where it hides how dark or bright it is. */
export const ExposureSection = memo(function ExposureSection({ cue, byRig, change }: Props) {
  const exposure = cue.holds.exposure ?? byRig;
  const fixed = exposure.lowEv === exposure.highEv;
  const ev100 = useMeter((m) => Number(m.ev100.toFixed(2)));
  const incident = useMeter((m) => Number(m.incidentEv.toFixed(2)));
  const lifted = incident - ev100;

  const set = (next: Exposure, what: string, key: string) => change(what, (c) => void (c.holds.exposure = next), key);
  const held = {
    is: cue.holds.exposure !== undefined,
    release: () => change('exposure by the rig', (c) => void delete c.holds.exposure),
  };

  return (
    <Section title="Exposure" note={fixed ? 'fixed' : `automatic: ${grouped(ev100, 1)} EV`}>
      <>
        <PickRow
          label="Exposed"
          value={fixed ? 'fixed' : 'auto'}
          options={[
            { value: 'fixed', label: 'Fixed' },
            { value: 'auto', label: 'Automatic' },
          ]}
          onChange={(kind) =>
            kind === 'fixed'
              ? set(
                  fixedExposure(Math.round(ev100 * 3) / 3),
                  `exposure fixed at ${EV.format(Math.round(ev100 * 3) / 3)} EV`,
                  'exposure kind',
                )
              : set(
                  { lowEv: Math.max(-10, Math.floor(ev100) - 3), highEv: Math.min(25, Math.ceil(ev100) + 3), biasEv: 0 },
                  'automatic exposure',
                  'exposure kind',
                )
          }
        />
        {fixed ? (
          <NumberRow
            label="EV100"
            value={exposure.lowEv}
            preset={exposure.lowEv}
            held={held}
            quantity={EV}
            hint="At ISO 100; one more lets in half the light"
            onChange={(v) => set(fixedExposure(v), `exposure ${EV.format(v)} EV`, 'exposure')}
          />
        ) : (
          BOUNDS.map(({ label, key, hint, bounded }) => (
            <NumberRow
              key={key}
              label={label}
              value={exposure[key]}
              preset={exposure[key]}
              held={held}
              quantity={EV}
              hint={hint}
              onChange={(v) => set({ ...exposure, [key]: bounded(v, exposure) }, `${label.toLowerCase()} exposure ${EV.format(v)} EV`, key)}
            />
          ))
        )}
        <ActionRow
          label={<>Open ground would be {grouped(incident, 1)} EV</>}
          action="neutral"
          title="Exposes for a grey card on open ground: right for judging how bright things really are"
          onClick={() => set(fixedExposure(Number(incident.toFixed(2))), 'neutral exposure', 'exposure kind')}
        />
      </>
      {!fixed && Math.abs(lifted) > HIDING_EV && (
        <p className={day.warning} role="status">
          Automatic exposure {lifted > 0 ? 'lifted' : 'lowered'} by {grouped(Math.abs(lifted), 1)} EV
        </p>
      )}
    </Section>
  );
});
