import { writeFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { addFinish, prepareLevel, readLevel, writeLevel } from '../../core/level';
import { DEFAULT_BAKE, addFinishCue, checkRig } from '../../core/rig';
import { AS_GLTF, type Placing } from '../../core/units';
import { inFile, need, path, print, readInput, type Command } from '../lib/input';
import { cueNamed, rigFrom } from '../lib/rigFile';

/** What a level holds, and how it is laid out on lightmaps. */
export const inspect: Command = async ([file], { json }) => {
  const name = need(file, 'The level file');
  const bytes = await readInput(name);
  const { summary } = await inFile(name, async () => prepareLevel(await readLevel(bytes), DEFAULT_BAKE));
  if (json) return print({ file: basename(name), bytes: bytes.length, ...summary });
  const { lightmaps: maps } = summary;
  console.log(`${basename(name)}: ${summary.objects} objects, ${summary.triangles} triangles, ${summary.areaM2.toFixed(1)} m2`);
  console.log(
    `lightmaps: ${maps.maps.map((m) => `${m.width} x ${m.height}`).join(', ')} at ${maps.texelsPerM.toFixed(2)} texels/m (${maps.origin})`,
  );
  for (const { object, fault } of maps.faults) console.log(`"${object}": second UV set ${fault}; made anew`);
};

/** Reads both versions of a level, and adds what the second shows to the first. */
async function withFinish([file, other]: string[], name: string | undefined, placing: Placing = AS_GLTF) {
  const [own, more] = [need(file, 'The level file'), need(other, 'The file of the other version')];
  const finish = need(name, '--name');
  const [level, second] = await Promise.all(
    [own, more].map(async (one) => {
      const bytes = await readInput(one);
      return inFile(one, () => readLevel(bytes));
    }),
  );
  return { level: level!, finish, differences: await inFile(more, () => addFinish(level!, second!, finish, placing)) };
}

/** What another finished version of a level shows otherwise; with --out the level with it, as a variant of its materials. */
export const finish: Command = async (files, { name, out, json }) => {
  const { level, finish: variant, differences } = await withFinish(files, name);
  const { materials, lights } = differences;
  if (out !== undefined) await writeFile(path(out), await writeLevel(level));
  if (json) return print({ name: variant, ...differences });
  if (materials.length + lights.added.length + lights.removed.length + lights.changed.length === 0)
    console.log('Both versions show the same.');
  for (const { object, from, to } of materials) console.log(`${object}: ${to} in place of ${from}`);
  for (const l of lights.added) console.log(`light added: ${l.name}`);
  for (const l of lights.removed) console.log(`light not there: ${l.name}`);
  for (const { to } of lights.changed) console.log(`light changed: ${to.name}`);
};

/** A rig with a cue more that shows another finished version of its level. */
export const finishCue: Command = async (files, { name, rig: file, cue }) => {
  const rig = await rigFrom(file);
  const like = cue === undefined ? rig.cues[0]! : cueNamed(rig, cue);
  const { finish: variant, differences } = await withFinish(files, name, rig.placing ?? AS_GLTF);
  addFinishCue(rig, variant, like.id, differences.lights);
  print(checkRig(rig));
};
