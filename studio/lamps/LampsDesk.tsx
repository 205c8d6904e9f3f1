'use client';

import { useCallback, useDeferredValue, useEffect, useMemo } from 'react';
import { lampsOf, moveToCircuit } from '../../core/rig';
import { NumberRow } from '../desk/NumberRow';
import { linear } from '../desk/quantity';
import { Section } from '../desk/Section';
import { useStudio, useStudioStore } from '../state/context';
import { useRigEdit } from '../state/useRigEdit';
import { CircuitsSection } from './CircuitsSection';
import { FaultsSection } from './FaultsSection';
import { FixturesSection } from './FixturesSection';
import { GlowsSection } from './GlowsSection';
import { LampSection } from './LampSection';
import { ProfilesSection } from './ProfilesSection';
import { LampDrag } from './LampDrag';
import { LampTable } from './LampTable';
import { ChosenActions } from './ChosenActions';
import { PlacingSection } from './PlacingSection';
import { AtObjectsSection } from './AtObjectsSection';
import { closeCopy, openIn, useLampTool } from './lampTool';
import desk from '../desk/desk.module.css';

const BUDGET = linear('', 0, 8, 1, 0);

/** The desk of the Lamps room: placing, the lamps and what they are, circuits, fixtures, profiles, and what is wrong. */
export function LampsDesk() {
  const store = useStudioStore();
  const rig = useStudio((s) => s.rig);
  // The picture marks what is chosen at once; the desk follows as soon as nothing more urgent is to do.
  const chosen = useDeferredValue(useLampTool((s) => s.chosen));
  const lamps = useMemo(() => lampsOf(rig), [rig]);
  const mine = useMemo(() => lamps.filter((l) => chosen.has(l.id)), [lamps, chosen]);
  const openId = openIn(
    rig,
    useLampTool((s) => s.openId),
  );
  const edit = useRigEdit();
  // A copy stays open as long as the room is.
  useEffect(() => closeCopy, []);
  const drop = useCallback(
    (ids: ReadonlySet<string>, circuitId: string) => {
      const { name } = store.getState().rig.circuits.find((c) => c.id === circuitId)!;
      edit(`${ids.size === 1 ? 'A lamp' : `${ids.size} lamps`} to ${name}`, (r) => moveToCircuit(r, ids, circuitId));
    },
    [store, edit],
  );
  return (
    <>
      <LampDrag circuits={rig.circuits} drop={drop} />
      <PlacingSection chosen={mine} />
      <Section title="Lamps" note={lamps.length === 0 ? 'none yet' : String(lamps.length)}>
        <LampTable lamps={lamps} chosen={chosen} rig={rig} />
        {mine.length > 0 && <ChosenActions mine={mine} openId={openId} edit={edit} />}
        <Isolux />
      </Section>
      {openId === null && mine.length > 0 && <AtObjectsSection mine={mine} rig={rig} edit={edit} />}
      {mine.length > 0 && <LampSection lamps={mine} openId={openId} rig={rig} edit={edit} />}
      <CircuitsSection rig={rig} edit={edit} />
      {openId === null && mine.length === 0 && <AtObjectsSection mine={mine} rig={rig} edit={edit} />}
      <FixturesSection rig={rig} edit={edit} />
      <FaultsSection rig={rig} lamps={lamps} />
      <ProfilesSection rig={rig} edit={edit} />
      <GlowsSection rig={rig} edit={edit} />
      <Section title="Live lamps" note={`${rig.liveLamps} at most`} rare>
        <NumberRow
          label="Budget"
          value={rig.liveLamps}
          preset={4}
          quantity={BUDGET}
          hint="Most lamps whose direct light is drawn live at once; the first four cast shadows"
          onChange={(v) => edit(`Live lamps: ${v}`, (r) => void (r.liveLamps = v), 'live lamps')}
        />
      </Section>
    </>
  );
}

/** Says what the lines on the floor stand for. */
function Isolux() {
  const isolux = useLampTool((s) => s.isolux);
  if (!isolux || isolux.lux.length === 0) return null;
  return (
    <p className={desk.text}>
      Lines on the floor, {isolux.belowM.toFixed(1)} m below: {isolux.lux.map((v) => String(v)).join(', ')} lx, without what stands between.
    </p>
  );
}
