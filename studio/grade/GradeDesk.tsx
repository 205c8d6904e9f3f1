'use client';

import { NEUTRAL_GRADE, gradeLiftEv } from '../../core/grade';
import { gradeUnder, liftByExposure, releaseGrade, setGrade } from '../../core/rig';
import { ExposureSection } from '../day/ExposureSection';
import { ActionRow } from '../desk/ActionRow';
import { HolderRow, useHolderOf } from '../desk/HolderRow';
import { grouped } from '../desk/quantity';
import { DeskSubject } from '../desk/Section';
import { useStudio } from '../state/context';
import { useShownCue } from '../state/shownCue';
import { targetOf } from '../state/studioStore';
import { useListening } from '../viewport/mix/listening';
import { useMeter } from '../viewport/meter/meterStore';
import { BalanceSection } from './BalanceSection';
import { CdlSection } from './CdlSection';
import { CurveSection } from './CurveSection';
import { FilesSection } from './FilesSection';
import { FinishSection } from './FinishSection';
import { useGrading } from './gradingStore';
import type { GradeRows } from './gradeRows';
import { LensSection } from './LensSection';
import { NightSection } from './NightSection';
import { PictureSection } from './PictureSection';
import { Scopes } from './Scopes';
import { SetsSection } from './SetsSection';
import { ZonesSection } from './ZonesSection';
import day from '../day/day.module.css';
import desk from '../desk/desk.module.css';
import styles from './grade.module.css';

/** Stops that a grade may lift without a word. */
const LIFT_EV = 0.5;

/** The desk of the Grade room: scopes over the parts of the grade, in the order in which they act. */
export function GradeDesk() {
  const rig = useStudio((s) => s.rig);
  const { cue, toBe, shownId, change, changeRig } = useShownCue();
  const lighting = useStudio(targetOf);
  const ungraded = useListening((s) => s.ungraded);
  const ev100 = useMeter((m) => m.ev100);
  const holder = useHolderOf(cue.id);
  const isDay = holder === 'day';
  const { id, name } = cue;
  const rows: GradeRows = {
    grade: isDay ? rig.grade : gradeUnder(rig.grade, cue.holds.grade),
    set(part, value, what, key) {
      useGrading.setState({ last: part });
      changeRig(`${isDay ? 'Grade' : name}: ${what}`, (r) => setGrade(r, holder, part, value), `grade ${isDay ? 'day' : id} ${key}`);
    },
    held: (part) =>
      isDay
        ? undefined
        : {
            is: cue.holds.grade?.[part] !== undefined,
            release: () => changeRig(`${name}: ${part} of the grade by the day`, (r) => releaseGrade(r, id, part)),
          },
  };
  const lift = gradeLiftEv(lighting.grade, ev100);
  return (
    <DeskSubject value={shownId}>
      <Scopes />
      <div className={styles.judge}>
        <span>{toBe ? `${cue.name}, between cues` : cue.name}</span>
        <button
          type="button"
          className={desk.quiet}
          aria-pressed={ungraded}
          title="Key Q; held, while it is down"
          onClick={() => useListening.setState({ ungraded: !ungraded })}
        >
          {ungraded ? 'shown ungraded' : 'show ungraded'}
        </button>
      </div>
      {toBe && (
        <p className={day.facts} style={{ padding: '10px 14px 0' }}>
          The grades of the cues on both sides are blended here. A change makes a cue of this hour.
        </p>
      )}
      <div className={styles.holder}>
        <HolderRow />
        {!isDay && cue.holds.grade && (
          <ActionRow
            label={`${Object.keys(cue.holds.grade).length} of ${Object.keys(NEUTRAL_GRADE).length} parts held`}
            action="as the day has it"
            onClick={() => changeRig(`${name}: grade by the day`, (r) => releaseGrade(r, id))}
          />
        )}
        {Math.abs(lift) > LIFT_EV && (
          <div className={day.warning} role="status">
            <ActionRow
              label={`The grade ${lift > 0 ? 'lifts' : 'lowers'} mid-grey by ${grouped(Math.abs(lift), 1)} EV`}
              action={lift > 0 ? 'open the exposure' : 'close the exposure'}
              title="The exposure does it instead: mid-grey is shown as before"
              onClick={() => changeRig(`${name}: exposure in place of the grade`, (r) => liftByExposure(r, id, lift))}
            />
          </div>
        )}
      </div>
      <SetsSection rig={rig} cue={cue} holder={holder} grade={rows.grade} changeRig={changeRig} />
      <ExposureSection cue={cue} byRig={rig.exposure} change={change} />
      <LensSection {...rows} lighting={lighting} ev100={ev100} />
      <NightSection {...rows} />
      <BalanceSection {...rows} lighting={lighting} />
      <CdlSection {...rows} />
      <ZonesSection {...rows} />
      <CurveSection {...rows} />
      <FinishSection {...rows} />
      <PictureSection />
      <FilesSection {...rows} lighting={lighting} name={cue.name} ev100={ev100} />
    </DeskSubject>
  );
}
