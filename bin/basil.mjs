// The command line: installs what is missing, then hands over to basil.ts.
import { ensureKernel } from './lib/kernel.mjs';
import { ROOT, ensurePackages } from './lib/packages.mjs';

ensurePackages();
ensureKernel();
process.chdir(ROOT);
const { register } = await import('tsx/esm/api');
register();
await import('./basil.ts');
