import { writeFile } from 'node:fs/promises';
import { writeHalt } from './writeHalt';

const file = new URL('./tamarisk-halt.glb', import.meta.url);
const bytes = await writeHalt();
await writeFile(file, bytes);
console.log(`demo/tamarisk-halt.glb: ${(bytes.length / 1e6).toFixed(2)} MB`);
