'use client';

import type { Draft } from 'immer';
import { luminance } from '../../core/units';
import { airById, bodiesAt, type Cue, type Rig } from '../../core/rig';
import { clockText } from '../desk/quantity';
import { useStudio, useStudioStore } from '../state/context';
import { currentCue, targetOf } from '../state/studioStore';
import { useTell } from '../state/useTell';
import { AirSection } from './AirSection';
import { BetweenCues } from './BetweenCues';
import { CueName } from './CueName';
import { CueSection } from './CueSection';
import { DomeChart } from './DomeChart';
import { ExposureSection } from './ExposureSection';
import { OthersSection } from './OthersSection';
import { PlaceSection } from './PlaceSection';
import { RunningDaySection } from './RunningDaySection';
import { SkySection } from './SkySection';
import { SunSection } from './SunSection';

/** Changes the cue that is shown, as one named step. */
export type ChangeCue = (what: string, recipe: (cue: Draft<Cue>) => void, key?: string) => void;
/** Changes the rig, as one named step. */
export type ChangeRig = (what: string, recipe: (rig: Draft<Rig>) => void, key?: string) => void;

/** The desk of the Day room, in the order of the work: sun, exposure, sky, air, then place, day and the cue itself. */
export function DayDesk() {
  const rig = useStudio((s) => s.rig);
  const cue = useStudio(currentCue);
  const hour = useStudio((s) => s.hour);
  const lighting = useStudio(targetOf);
  const store = useStudioStore();
  const tell = useTell();

  const changeRig: ChangeRig = (what, recipe, key) => {
    try {
      store.getState().edit(what, recipe, key);
    } catch (error) {
      tell.fault(error);
    }
  };
  const change: ChangeCue = (what, recipe, key) =>
    changeRig(`${cue.name}: ${what}`, (r) => recipe(r.cues.find((c) => c.id === cue.id)!), key && `${cue.id} ${key}`);

  const at = hour ?? cue.hour;
  const bodies = bodiesAt(rig, at);
  const sun = lighting.suns.find((s) => s.kind === 'sun');
  const held = hour === null ? (cue.holds.sun ?? {}) : {};
  const standing = {
    azimuthDeg: sun?.azimuthDeg ?? held.azimuthDeg ?? bodies[0]!.azimuthDeg,
    elevationDeg: sun?.elevationDeg ?? held.elevationDeg ?? bodies[0]!.elevationDeg,
  };
  const moon = bodies[1]!;
  const twelve = rig.day.clock === 12;

  return (
    <>
      {hour === null ? (
        <CueName
          cue={cue}
          clock={clockText(cue.hour, twelve)}
          onRename={(name) => change(`renamed to ${name}`, (c) => void (c.name = name), 'name')}
        />
      ) : (
        <BetweenCues hour={hour} twelve={twelve} changeRig={changeRig} />
      )}
      <DomeChart
        rig={rig}
        sun={[standing.azimuthDeg, standing.elevationDeg]}
        moon={[moon.azimuthDeg, moon.elevationDeg]}
        onMove={
          hour === null
            ? (azimuthDeg, elevationDeg) =>
                change(
                  `sun at ${azimuthDeg.toFixed(1)}° / ${elevationDeg.toFixed(1)}°`,
                  (c) => void (c.holds.sun = { ...c.holds.sun, azimuthDeg, elevationDeg }),
                  'sun place',
                )
            : null
        }
      />
      <SunSection
        cue={cue}
        locked={hour !== null}
        sun={{ ...standing, illuminanceLux: sun ? luminance(sun.illuminance) : 0, discDeg: sun?.discDeg ?? bodies[0]!.discDeg }}
        change={change}
        place={rig.day.course === 'almanac' ? rig.place : null}
        twelve={twelve}
        onTake={({ date, hour: found }) =>
          changeRig(`${date}, ${clockText(found, twelve)}`, (r) => {
            r.place.date = date;
            const own = r.cues.find((c) => c.id === cue.id)!;
            own.hour = Number(found.toFixed(4)) % 24;
            delete own.holds.sun?.azimuthDeg;
            delete own.holds.sun?.elevationDeg;
            if (own.holds.sun && Object.keys(own.holds.sun).length === 0) delete own.holds.sun;
          })
        }
      />
      <ExposureSection cue={cue} rig={rig} locked={hour !== null} change={change} />
      <SkySection cue={cue} locked={hour !== null} change={change} />
      <AirSection rig={rig} named={airById(rig, rig.airId)} changeRig={changeRig} />
      <PlaceSection rig={rig} moon={moon} changeRig={changeRig} />
      <RunningDaySection rig={rig} changeRig={changeRig} />
      <OthersSection rig={rig} changeRig={changeRig} />
      {hour === null && <CueSection cue={cue} rig={rig} change={change} changeRig={changeRig} />}
    </>
  );
}
