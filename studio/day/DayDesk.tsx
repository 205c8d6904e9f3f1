'use client';

import { luminance } from '../../core/units';
import { bodiesAt, holdBody, moonNow } from '../../core/rig';
import { clockText } from '../desk/quantity';
import { useStudio } from '../state/context';
import { shownRig, targetOf } from '../state/studioStore';
import type { useSkyShelf } from '../skies/useSkyShelf';
import { useShownCue } from '../state/shownCue';
import { useRigEdit } from '../state/useRigEdit';
import { CallsSection } from '../calls/CallsSection';
import { CoursesSection } from '../cues/CoursesSection';
import { DifferencesSection } from '../cues/DifferencesSection';
import { DeskPart, DeskStrip } from '../desk/DeskParts';
import { DeskSubject } from '../desk/Section';
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
import { ShownSection } from './ShownSection';
import { SkySection } from './SkySection';
import { StrengthSection } from './StrengthSection';
import { SunSection } from './SunSection';
import { VolumesSection } from './VolumesSection';
import { WaterSection } from './WaterSection';
import { WeatherSection } from './WeatherSection';

/** The desk of the Day room, in parts by the order of the work: sun and exposure, sky and air, fog, weather, night, then place, day and the cue itself. */
export function DayDesk({ shelf, onSkyFiles }: { shelf: ReturnType<typeof useSkyShelf>; onSkyFiles(files: File[]): void }) {
  const rig = useStudio((s) => s.rig);
  const { cue, toBe, shownId, change, changeRig } = useShownCue();
  const today = useStudio(shownRig);
  const lighting = useStudio(targetOf);

  // What is of the day alone makes no cue.
  const changeDay = useRigEdit();
  const { id, name } = cue;
  const at = cue.hour;
  const bodies = bodiesAt(today, at);
  const sun = lighting.suns.find((s) => s.kind === 'sun');
  const held = cue.holds.sun ?? {};
  const standing = {
    azimuthDeg: sun?.azimuthDeg ?? held.azimuthDeg ?? bodies[0]!.azimuthDeg,
    elevationDeg: sun?.elevationDeg ?? held.elevationDeg ?? bodies[0]!.elevationDeg,
  };
  const moon = moonNow(today, at, cue.holds);
  const twelve = rig.day.clock === 12;

  return (
    <DeskSubject value={shownId}>
      {!toBe ? (
        <CueName
          key={cue.id}
          name={cue.name}
          taken={rig.cues.filter((c) => c.id !== cue.id).map((c) => c.name)}
          clock={clockText(cue.hour, twelve)}
          onRename={(name) => change(`renamed to ${name}`, (c) => void (c.name = name), 'name')}
        />
      ) : (
        <BetweenCues toBe={toBe} twelve={twelve} changeRig={changeDay} />
      )}
      <DeskStrip parts={['Sun', 'Sky', 'Fog', 'Weather', 'Night', 'Day']} />
      <DeskPart name="Sun">
        <DomeChart
          rig={today}
          sun={[standing.azimuthDeg, standing.elevationDeg]}
          moon={[moon.azimuthDeg, moon.elevationDeg]}
          onMove={(body, azimuthDeg, elevationDeg) =>
            changeRig(
              `${name}: ${body} at ${azimuthDeg.toFixed(1)}° / ${elevationDeg.toFixed(1)}°`,
              (r) => holdBody(r, id, body, { azimuthDeg, elevationDeg }),
              `${id} ${body} place`,
            )
          }
        />
        <SunSection
          cue={cue}
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
        <ExposureSection cue={cue} byRig={rig.exposure} change={change} />
        <LookSection cue={cue} body="sun" discDeg={held.discDeg ?? bodies[0]!.discDeg} changeRig={changeRig} />
        <ShadeSection cue={cue} lighting={lighting} change={change} />
      </DeskPart>
      <DeskPart name="Sky">
        <SkySection cue={cue} lighting={lighting} shelf={shelf} change={change} onFiles={onSkyFiles} />
        <CloudSection cue={cue} lighting={lighting} change={change} />
        <AirSection rig={rig} cue={cue} changeRig={changeRig} />
      </DeskPart>
      <DeskPart name="Fog">
        <FogSection cue={cue} rigFog={rig.fog} lighting={lighting} changeRig={changeRig} />
        <VolumesSection volumes={rig.volumes} cue={cue} changeRig={changeRig} />
      </DeskPart>
      <DeskPart name="Weather">
        <WeatherSection rig={rig} cue={cue} lighting={lighting} changeRig={changeRig} />
        <WaterSection rig={rig} cue={cue} changeRig={changeRig} />
        <MaterialsSection rules={rig.materials} changeRig={changeRig} />
      </DeskPart>
      <DeskPart name="Night">
        <MoonSection cue={cue} moon={moon} changeRig={changeRig} />
        <LookSection cue={cue} body="moon" discDeg={moon.discDeg} changeRig={changeRig} />
        <NightSection cue={cue} rigNight={rig.night} changeRig={changeRig} />
      </DeskPart>
      <DeskPart name="Day">
        <PlaceSection place={rig.place} course={rig.day} moonDeg={moon.elevationDeg} litShare={moon.litShare} changeRig={changeDay} />
        <RunningDaySection ran={rig.day} today={today.day} place={today.place} changeRig={changeDay} />
        <StrengthSection rig={rig} today={today} changeRig={changeDay} />
        <OthersSection others={rig.day.others} changeRig={changeDay} />
        <ShadowsSection reachM={rig.shadowReachM} changeRig={changeDay} />
        {!toBe && <CueSection cue={cue} twelve={twelve} only={rig.cues.length === 1} change={change} changeRig={changeDay} />}
        <ShownSection rig={rig} cue={cue} changeRig={changeRig} />
        {!toBe && <DifferencesSection rig={rig} cue={cue} changeRig={changeDay} />}
        <CoursesSection rig={rig} twelve={twelve} changeRig={changeDay} />
        <CallsSection rig={rig} cueId={shownId} changeRig={changeDay} />
      </DeskPart>
    </DeskSubject>
  );
}
