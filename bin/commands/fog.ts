import type { Fog } from '../../core/fog';
import { percent } from '../../core/units';
import { fogReport } from '../lib/fogReport';
import { need, print, type Command } from '../lib/input';
import { lengthFrom, numberFrom } from '../lib/numberFrom';

/** What a fog of a visibility hides, and how far one sees in it. */
export const fog: Command = (_, options) => {
  const length = (name: 'base' | 'fall-off' | 'start' | 'eye', low: number, otherwise: number) =>
    options[name] === undefined ? otherwise : lengthFrom(options[name], `--${name}`, low, 100_000);
  const stated: Fog = {
    visibilityM: lengthFrom(need(options.visibility, '--visibility'), '--visibility', 1, 1_000_000),
    baseM: length('base', -10_000, 0),
    fallOffM: length('fall-off', 0.01, Infinity),
    startM: length('start', 0, 0),
    mostHidden: options.most === undefined ? 1 : numberFrom(options.most, '--most', 0, 1),
    forward: 0.8,
  };
  const report = fogReport(stated, length('eye', -10_000, 1.7));
  if (options.json) return print(report);
  console.log(`${report.word}: ${report.extinctionPerM} taken per metre`);
  for (const { share, distanceM } of report.reaches) {
    if (distanceM === null) return console.log(`at least ${percent(1 - stated.mostHidden)} of what is looked at is always seen`);
    console.log(`${percent(share)} of what is looked at is seen at ${distanceM} m`);
  }
};
