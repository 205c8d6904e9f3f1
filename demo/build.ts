import { mkdir, writeFile } from 'node:fs/promises';
import { iesFile, iesFiles } from './profiles';
import { writeHalt } from './writeHalt';

const bytes = await writeHalt();
await writeFile(new URL('./tamarisk-halt.glb', import.meta.url), bytes);
console.log(`demo/tamarisk-halt.glb: ${(bytes.length / 1e6).toFixed(2)} MB`);
await mkdir(new URL('./ies/', import.meta.url), { recursive: true });
for (const { id, text } of iesFiles()) {
  await writeFile(iesFile(id), text);
  console.log(`demo/ies/${id}.ies: ${text.length} bytes`);
}
