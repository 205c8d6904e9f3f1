import { basename } from 'node:path';
import { NOISE_KINDS, sourceName, type Measure } from '../../core/bake';
import { refuseHeldImages } from '../../core/rig';
import { bakeToFolder } from '../../server/folder/bakeFiles';
import { Failure, percent } from '../../core/units';
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
  const manifest = await inFile(name, () =>
    bakeToFolder(bytes, basename(name), rig, out, { threads, compact: options.compact, measure, progress }),
  );
  if (process.stderr.isTTY) process.stderr.write('\r');
  const seconds = (performance.now() - started) / 1000;
  if (options.json) return print({ out, seconds, ...manifest });
  console.log(
    `${manifest.files.length} files and level.glb written to ${out} in ${seconds.toFixed(1)} s; manifest.json says what they hold.`,
  );
  const { sources, allowed, texels, over, objects } = manifest.noise;
  console.log('Noise before the filter:');
  for (const source of sources) console.log(`  ${sourceName(source, rig)}: ${percent(source.noise)}`);
  const kinds = NOISE_KINDS.filter((kind) => over[kind] > 0).map((kind) => `${kind} in ${percent(over[kind] / texels)} of the texels`);
  if (kinds.length > 0) console.log(`Above ${percent(allowed)} of its own light after all paths: ${kinds.join(', ')}.`);
  for (const { object, kind, noise } of objects) console.log(`  ${object}: ${kind} up to ${percent(noise)}`);
};
