import { basename } from 'node:path';
import type { Measure, SourceNoise } from '../../core/bake';
import { refuseHeldImages } from '../../core/rig';
import { bakeToFolder } from '../../server/folder/bakeFiles';
import { Failure } from '../../core/units';
import { inFile, need, path, print, readInput, threadsFrom, type Command, type Options } from '../lib/input';
import { numberFrom } from '../lib/numberFrom';
import { rigFrom } from '../lib/rigFile';

const STEPS = ['filter', 'seams'] as const;

/** What is changed to measure the bake itself. */
function measureFrom({ seed, noise, without }: Options): Measure {
  const steps = without?.split(',').map((name) => {
    const step = STEPS.find((s) => s === name.trim());
    if (!step) throw new Failure('bad-input', `--without ${name} is no step that can be left out.`, `There are ${STEPS.join(' and ')}.`);
    return step;
  });
  return {
    ...(seed === undefined ? {} : { seed: Math.round(numberFrom(seed, '--seed', 0, 2 ** 31)) }),
    ...(noise === undefined ? {} : { noise: numberFrom(noise, '--noise', 0, 10) }),
    ...(steps ? { without: steps } : {}),
  };
}

const nameOf = ({ source, ids }: SourceNoise, names: Map<string, string>) =>
  [source === 'circuit' && ids.length === 0 ? 'lamps' : source, ...ids.map((id) => names.get(id) ?? id)].join(' ');

/** Bakes a level into a folder. */
export const bake: Command = async ([file], options) => {
  const name = need(file, 'The level file');
  const rigFile = need(options.rig, '--rig');
  const out = path(need(options.out, '--out'));
  const threads = threadsFrom(options.threads);
  const measure = measureFrom(options);
  const rig = await rigFrom(rigFile);
  refuseHeldImages(rig);
  const bytes = await readInput(name);
  const started = performance.now();
  const progress = (share: number) => process.stderr.isTTY && process.stderr.write(`\rbaking ${Math.round(share * 100)} %`);
  const manifest = await inFile(name, () => bakeToFolder(bytes, basename(name), rig, out, { threads, measure, progress }));
  if (process.stderr.isTTY) process.stderr.write('\r');
  const seconds = (performance.now() - started) / 1000;
  if (options.json) return print({ out, seconds, ...manifest });
  console.log(
    `${manifest.files.length} images and level.glb written to ${out} in ${seconds.toFixed(1)} s; manifest.json says what they hold.`,
  );
  const names = new Map([...rig.cues, ...rig.circuits].map(({ id, name }) => [id, name]));
  const percent = (share: number) => `${(share * 100).toFixed(1)} %`;
  const { sources, allowed, texels, over, objects } = manifest.noise;
  for (const line of sources) console.log(`noise before the filter, ${nameOf(line, names)}: ${percent(line.noise)}`);
  for (const [kind, count] of Object.entries(over))
    if (count > 0) console.log(`${kind}: noisier than the ${percent(allowed)} of the quality in ${percent(count / texels)} of the texels`);
  for (const o of objects) console.log(`  ${o.object}: ${o.kind} up to ${percent(o.noise)}`);
};
