import { basename } from 'node:path';
import { refuseHeldImages } from '../../core/rig';
import { bakeToFolder } from '../../server/folder/bakeFiles';
import { inFile, need, path, print, readInput, threadsFrom, type Command } from '../lib/input';
import { rigFrom } from '../lib/rigFile';

/** Bakes a level into a folder. */
export const bake: Command = async ([file], options) => {
  const name = need(file, 'The level file');
  const rigFile = need(options.rig, '--rig');
  const out = path(need(options.out, '--out'));
  const threads = threadsFrom(options.threads);
  const rig = await rigFrom(rigFile);
  refuseHeldImages(rig);
  const bytes = await readInput(name);
  const started = performance.now();
  const show = (share: number) => process.stderr.isTTY && process.stderr.write(`\rbaking ${Math.round(share * 100)} %`);
  const manifest = await inFile(name, () => bakeToFolder(bytes, basename(name), rig, out, threads, show));
  if (process.stderr.isTTY) process.stderr.write('\r');
  const seconds = (performance.now() - started) / 1000;
  if (options.json) return print({ out, seconds, ...manifest });
  console.log(
    `${manifest.files.length} images and level.glb written to ${out} in ${seconds.toFixed(1)} s; manifest.json says what they hold.`,
  );
};
