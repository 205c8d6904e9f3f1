import { memo } from 'react';
import { wayOut, type LampFault } from '../../core/preflight';
import { moveStanding, type Rig, type StandingLamp } from '../../core/rig';
import type { Vec3 } from '../../core/units';
import { Section } from '../desk/Section';
import { useStudioStore } from '../state/context';
import { useRigEdit } from '../state/useRigEdit';
import { useTell } from '../state/useTell';
import { useView } from '../viewport/viewStore';
import { choose, useLampTool } from './lampTool';
import { useLampFaults } from './useLampFaults';
import desk from '../desk/desk.module.css';
import styles from './lamps.module.css';

/** A lamp that is moved out stands this far off at least, metres. */
const LEAST_OFF_M = 0.1;

/** What is wrong with the lamps; each line leads to its place. */
export const FaultsSection = memo(function FaultsSection({ rig, lamps }: { rig: Rig; lamps: StandingLamp[] }) {
  const store = useStudioStore();
  const edit = useRigEdit();
  const tell = useTell();
  const cast = useView((s) => s.cast);
  const found = useLampFaults(rig, cast);
  const lead = ({ lampIds, cueId, circuitId }: LampFault) => {
    if (cueId) store.getState().go(cueId);
    if (circuitId) useLampTool.setState({ plan: true });
    choose(lampIds);
    const lamp = lamps.find((l) => lampIds.includes(l.id));
    if (!lamp || cueId || circuitId) return;
    const now = useView.getState().vantage?.();
    if (!now) return;
    useView.getState().stand?.({ ...now, eye: eyeFor(lamp.at, now.eye, now.target), target: [...lamp.at] });
  };
  /** Moves a lamp to the nearest place that is free all around; of a fixture, in the fixture, so that every copy follows. */
  const moveOut = ({ lampIds }: LampFault) => {
    const lamp = lamps.find((l) => lampIds.includes(l.id));
    if (!lamp || !cast) return;
    const { standOffM } = useLampTool.getState();
    const place = wayOut(lamp.at, Math.max(standOffM, LEAST_OFF_M), cast);
    if (!place) return tell.say(`No free place was found near ${lamp.name}.`);
    edit(`Moved ${lamp.name} out`, (r) => moveStanding(r, [lamp], place.map((v, c) => v - lamp.at[c]!) as Vec3, lamp.placedId));
    choose([lamp.id]);
  };
  if (lamps.length === 0 && rig.circuits.length === 0) return null;
  return (
    <Section title="What is wrong" note={!found ? 'looking' : found.length === 0 ? 'nothing found' : String(found.length)}>
      {found && found.length === 0 && (
        <p className={desk.text}>No lamp is inside of something, too near, doubled, cut or without a circuit.</p>
      )}
      {found && found.length > 0 && (
        <ul className={styles.faults}>
          {gathered(found, lamps, rig)
            .slice(0, 60)
            .map(({ fault, copies }, i) => (
              <li key={i}>
                <button type="button" data-code={fault.code} onClick={() => lead(fault)}>
                  {fault.text}
                  {copies > 1 && ` So ${copies === 2 ? 'does 1 copy more' : `do ${copies - 1} copies more`}.`}
                </button>
                {(fault.code === 'inside' || fault.code === 'too-near') && cast && (
                  <button type="button" className={styles.remedy} onClick={() => moveOut(fault)}>
                    Move it out
                  </button>
                )}
              </li>
            ))}
        </ul>
      )}
    </Section>
  );
});

/** Faults of one lamp of a fixture stand in one line, however many copies have them. */
function gathered(faults: readonly LampFault[], lamps: readonly StandingLamp[], { placed }: Rig): { fault: LampFault; copies: number }[] {
  const fixtureOf = new Map(placed.map((p) => [p.id, p.fixtureId]));
  const lampOf = new Map(lamps.map((l) => [l.id, l]));
  const lines = new Map<string, { fault: LampFault; copies: number }>();
  faults.forEach((fault, i) => {
    const copyId = fault.lampIds.length === 1 ? lampOf.get(fault.lampIds[0]!)?.placedId : null;
    const key = copyId ? [fault.code, fixtureOf.get(copyId), fault.lampIds[0]!.slice(copyId.length)].join(' ') : String(i);
    const line = lines.get(key);
    if (!line) lines.set(key, { fault, copies: 1 });
    else lines.set(key, { fault: { ...line.fault, lampIds: [...line.fault.lampIds, ...fault.lampIds] }, copies: line.copies + 1 });
  });
  return [...lines.values()];
}

/** Where to look at a lamp from: along the present line of sight, four metres away. */
function eyeFor(at: Vec3, eye: Vec3, target: Vec3): Vec3 {
  const back = eye.map((v, c) => v - target[c]!) as Vec3;
  const length = Math.hypot(...back) || 1;
  return at.map((v, c) => v + (back[c]! / length) * 4) as Vec3;
}
