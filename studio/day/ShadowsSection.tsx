import { memo } from 'react';
import { LIVE_SHADOWS, shadowMapBytes, type LiveShadows } from '../../core/rig';
import { grouped, readable } from '../desk/quantity';
import { PickRow } from '../desk/PickRow';
import { Section } from '../desk/Section';
import { useMeter } from '../viewport/meter/meterStore';
import type { ChangeRig } from '../state/useRigEdit';
import day from './day.module.css';

const NAMES: Record<LiveShadows, string> = { near: 'Near', middle: 'Middle', far: 'Far' };

/** How far the shadows reach that are drawn live, with what one of them costs on this machine. */
export const ShadowsSection = memo(function ShadowsSection({ liveShadows, changeRig }: { liveShadows: LiveShadows; changeRig: ChangeRig }) {
  const cost = useMeter((m) => m.shadowCost);
  const { reachM, mapSize } = LIVE_SHADOWS[liveShadows];
  return (
    <Section title="Live shadows" note={`to ${reachM} m`} rare>
      <PickRow
        label="Reach"
        value={liveShadows}
        options={(Object.keys(LIVE_SHADOWS) as LiveShadows[]).map((value) => ({
          value,
          label: NAMES[value],
          title: `${LIVE_SHADOWS[value].reachM} m about what is looked at`,
        }))}
        onChange={(v) => changeRig(`Live shadows ${NAMES[v as LiveShadows].toLowerCase()}`, (r) => void (r.liveShadows = v as LiveShadows))}
      />
      <p className={day.facts}>
        Each live sun or moon takes {grouped(shadowMapBytes(mapSize) / 1e6)} MB
        {cost
          ? ` and ${readable(cost.ms)} ms here when it moves; edges to ${grouped(cost.texelM * 100, 1)} cm`
          : '; its time is measured when one shines live'}
      </p>
    </Section>
  );
});
