import { Failure } from '../../core/units';
import { need, print, type Command } from '../lib/input';
import { numberFrom } from '../lib/numberFrom';
import { almanacOf } from '../lib/skyReport';

/** Sun and moon over a place. */
export const almanac: Command = (_, options) => {
  const at = need(options.at, '--at');
  const moment = /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}(:\d{2}(\.\d+)?)?(Z|[+-]\d{2}:\d{2})$/.test(at) ? new Date(at) : new Date(NaN);
  if (Number.isNaN(moment.getTime()) || moment.getUTCFullYear() < 1700 || moment.getUTCFullYear() > 2200) {
    throw new Failure('bad-input', `--at ${at} is no moment from 1700 to 2200.`, 'Write it like 2026-06-21T12:30:00+02:00.');
  }
  const offset = /([+-])(\d{2}):(\d{2})$/.exec(at);
  const utcOffsetH = offset ? (offset[1] === '-' ? -1 : 1) * (Number(offset[2]) + Number(offset[3]) / 60) : 0;
  const report = almanacOf({
    latitudeDeg: numberFrom(need(options.lat, '--lat'), '--lat', -90, 90),
    longitudeDeg: numberFrom(need(options.lon, '--lon'), '--lon', -180, 180),
    heightM: options.height === undefined ? 0 : numberFrom(options.height, '--height', -500, 9000),
    utcOffsetH,
    moment,
  });
  if (options.json) return print(report);
  const { sun, moon } = report;
  console.log(
    `sun azimuth ${sun.azimuthDeg.toFixed(3)}, elevation ${sun.elevationDeg.toFixed(3)} deg (${sun.geometricElevationDeg.toFixed(3)} without refraction)`,
  );
  console.log(`sunrise ${sun.rise ?? 'none'}, highest ${sun.transit ?? 'none'}, sunset ${sun.set ?? 'none'}`);
  console.log(
    `moon azimuth ${moon.azimuthDeg.toFixed(3)}, elevation ${moon.elevationDeg.toFixed(3)} deg, ${(moon.litShare * 100).toFixed(1)} % lit`,
  );
};
