'use client';

import { useCallback } from 'react';
import { luminance } from '../../core/units';
import { bodiesAt, holdBody, moonNow } from '../../core/rig';
import { clockText } from '../desk/quantity';
import { useStudio } from '../state/context';
import { currentCue, shownRig, targetOf } from '../state/studioStore';
import type { useSkyShelf } from '../skies/useSkyShelf';
import { useRigEdit, type ChangeCue } from '../state/useRigEdit';
import { AirSection } from './AirSection';
import { BetweenCues } from './BetweenCues';
import { CloudSection } from './CloudSection';
import { CueName } from './CueName';
import { CueSection } from './CueSection';
import { DomeChart } from './DomeChart';
import { ExposureSection } from './ExposureSection';
import { FogSection } from './FogSection';
import { LookSection } from './LookRows';
import { MaterialsSection } from './MaterialsSection';
import { MoonSection } from './MoonSection';
import { NightSection } from './NightSection';
import { OthersSection } from './OthersSection';
import { PlaceSection } from './PlaceSection';
import { RunningDaySection } from './RunningDaySection';
import { ShadeSection } from './ShadeSection';
import { ShadowsSection } from './ShadowsSection';
import { SkySection } from './SkySection';
import { StrengthSection } from './StrengthSection';
import { SunSection } from './SunSection';
import { VolumesSection } from './VolumesSection';
import { WaterSection } from './WaterSection';
import { WeatherSection } from './WeatherSection';

/** The desk of the Day room, in the order of the work: sun, exposure, sky, air, fog, then place, day and the cue itself. */
export function DayDesk({ shelf, onSkyFile }: { shelf: ReturnType<typeof useSkyShelf>; onSkyFile(file: File): void }) {
  const rig = useStudio((s) => s.rig);
  const cue = useStudio(currentCue);
  const hour = useStudio((s) => s.hour);
  const today = useStudio(shownRig);
  const lighting = useStudio(targetOf);

  const changeRig = useRigEdit();
  const { id, name } = cue;
  const change: ChangeCue = useCallback(
    (what, recipe, key) => changeRig(`${name}: ${what}`, (r) => recipe(r.cues.find((c) => c.id === id)!), key && `${id} ${key}`),
    [changeRig, id, name],
  );

  const at = hour ?? cue.hour;
  const bodies = bodiesAt(today, at);
  const sun = lighting.suns.find((s) => s.kind === 'sun');
  const held = hour === null ? (cue.holds.sun ?? {}) : {};
  const standing = {
    azimuthDeg: sun?.azimuthDeg ?? held.azimuthDeg ?? bodies[0]!.azimuthDeg,
    elevationDeg: sun?.elevationDeg ?? held.elevationDeg ?? bodies[0]!.elevationDeg,
  };
  const moon = moonNow(today, at, hour === null ? cue.holds : {});
  const twelve = rig.day.clock === 12;

  return (
    <>
      {hour === null ? (
        <CueName
          key={cue.id}
          name={cue.name}
          taken={rig.cues.filter((c) => c.id !== cue.id).map((c) => c.name)}
          clock={clockText(cue.hour, twelve)}
          onRename={(name) => change(`renamed to ${name}`, (c) => void (c.name = name), 'name')}
        />
      ) : (
        <BetweenCues hour={hour} twelve={twelve} changeRig={changeRig} />
      )}
      <DomeChart
        rig={today}
        sun={[standing.azimuthDeg, standing.elevationDeg]}
        moon={[moon.azimuthDeg, moon.elevationDeg]}
        onMove={
          hour === null
            ? (body, azimuthDeg, elevationDeg) =>
                changeRig(
                  `${name}: ${body} at ${azimuthDeg.toFixed(1)}° / ${elevationDeg.toFixed(1)}°`,
                  (r) => holdBody(r, id, body, { azimuthDeg, elevationDeg }),
                  `${id} ${body} place`,
                )
            : null
        }
      />
      <SunSection
        cue={cue}
        locked={hour !== null}
        sun={{
          ...standing,
          illuminanceLux: sun && sun.clear > 0 ? luminance(sun.overFog) / sun.clear : (held.illuminanceLux ?? 0),
          discDeg: sun?.discDeg ?? bodies[0]!.discDeg,
        }}
        main={lighting.suns[0] ?? null}
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
      <ExposureSection cue={cue} byRig={rig.exposure} locked={hour !== null} change={change} />
      <SkySection cue={cue} locked={hour !== null} lighting={lighting} shelf={shelf} change={change} onFile={onSkyFile} />
      {hour === null && <CloudSection cue={cue} lighting={lighting} change={change} />}
      <AirSection rig={rig} cue={hour === null ? cue : null} changeRig={changeRig} />
      <FogSection cue={cue} rigFog={rig.fog} locked={hour !== null} lighting={lighting} changeRig={changeRig} />
      {hour === null && (
        <>
          <WeatherSection rig={rig} cue={cue} lighting={lighting} changeRig={changeRig} />
          <WaterSection rig={rig} cue={cue} changeRig={changeRig} />
          <MaterialsSection rules={rig.materials} changeRig={changeRig} />
        </>
      )}
      {hour === null && <VolumesSection volumes={rig.volumes} cue={cue} changeRig={changeRig} />}
      {hour === null && <ShadeSection cue={cue} lighting={lighting} change={change} />}
      {hour === null && (
        <>
          <LookSection cue={cue} body="sun" discDeg={held.discDeg ?? bodies[0]!.discDeg} changeRig={changeRig} />
          <MoonSection cue={cue} moon={moon} changeRig={changeRig} />
          <LookSection cue={cue} body="moon" discDeg={moon.discDeg} changeRig={changeRig} />
        </>
      )}
      {hour === null && <NightSection cue={cue} rigNight={rig.night} changeRig={changeRig} />}
      <PlaceSection place={rig.place} course={rig.day} moonDeg={moon.elevationDeg} litShare={moon.litShare} changeRig={changeRig} />
      <RunningDaySection ran={rig.day} today={today.day} place={today.place} changeRig={changeRig} />
      <StrengthSection rig={rig} today={today} changeRig={changeRig} />
      <OthersSection others={rig.day.others} changeRig={changeRig} />
      <ShadowsSection liveShadows={rig.liveShadows} changeRig={changeRig} />
      {hour === null && <CueSection cue={cue} twelve={twelve} only={rig.cues.length === 1} change={change} changeRig={changeRig} />}
    </>
  );
}
