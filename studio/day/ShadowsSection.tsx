import { memo } from 'react';
import { SHADOW_BYTES, SHADOW_REACH_M } from '../../core/rig';
import { NumberRow } from '../desk/NumberRow';
import { grouped, logarithmic, readable } from '../desk/quantity';
import { Section } from '../desk/Section';
import { useMeter } from '../viewport/meter/meterStore';
import type { ChangeRig } from '../state/useRigEdit';
import day from './day.module.css';

const REACH = logarithmic('m', SHADOW_REACH_M.least, SHADOW_REACH_M.most);

/** How far the shadows reach that are drawn live, with what each of their maps costs on this machine. */
export const ShadowsSection = memo(function ShadowsSection({ reachM, changeRig }: { reachM: number; changeRig: ChangeRig }) {
  const costs = useMeter((m) => m.shadowCost);
  return (
    <Section title="Live shadows" note={`to ${REACH.format(reachM)} m`} rare>
      <NumberRow
        label="Reach"
        value={reachM}
        preset={SHADOW_REACH_M.preset}
        quantity={REACH}
        hint="Metres before and about the eye, as far as the level goes"
        onChange={(v) => changeRig(`Live shadows to ${REACH.format(v)} m`, (r) => void (r.shadowReachM = v), 'shadow reach')}
      />
      {costs ? (
        <dl className={day.costs} aria-label="Maps of a live shadow">
          {costs.map(({ reachM: to, ms, texelM }) => (
            <div key={to}>
              <dt>to {readable(to)} m</dt>
              <dd>edges to {grouped(texelM * 100, 1)} cm</dd>
              <dd>{readable(ms)} ms</dd>
            </div>
          ))}
        </dl>
      ) : (
        <p className={day.facts}>What its maps cost is measured when a sun or moon shines live.</p>
      )}
      <p className={day.facts}>Each live sun or moon takes {grouped(SHADOW_BYTES / 1e6)} MB; the times are taken when it moves.</p>
    </Section>
  );
});
