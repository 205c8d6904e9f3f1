import { cueWeather, hourWeather, refuseHeldImages, resolveCue, resolveHour } from '../../core/rig';
import { percent } from '../../core/units';
import { print, type Command } from '../lib/input';
import { momentFrom, rigFrom } from '../lib/rigFile';
import { weatherReport } from '../lib/weatherReport';

/** The weather of a cue or an hour: what falls, what is left of it on the ground, and what it does to the light. */
export const weather: Command = async (_, options) => {
  const rig = await rigFrom(options.rig);
  const moment = momentFrom(rig, options);
  refuseHeldImages({ cues: 'cue' in moment ? [moment.cue] : rig.cues });
  const [lighting, start] =
    'cue' in moment
      ? [resolveCue(rig, moment.cue), cueWeather(rig, moment.cue)]
      : [resolveHour(rig, moment.hour), hourWeather(rig, moment.hour)];
  const report = weatherReport(lighting, start.weather);
  if (options.json) return print(report);
  const { ground, openGroundLux } = report;
  console.log(`${report.word}: ${report.rainMmH} mm/h of rain, ${report.snowMmH} mm/h of snow, ${start.weather.temperatureC} C`);
  console.log(`ground ${percent(ground.wet)} wet, hollows ${percent(ground.puddles)} full, ${percent(ground.snow)} under snow`);
  console.log(
    `sun ${openGroundLux.sun} lx and sky ${openGroundLux.sky} lx on open ground; ${report.visibilityM === null ? 'nothing in the air hides what is far' : `one sees to ${report.visibilityM} m`}`,
  );
};
