// The command line: installs what is missing, then hands over to basil.ts.
import { ROOT, ensurePackages } from './lib/packages.mjs';

ensurePackages();
process.chdir(ROOT);
const { register } = await import('tsx/esm/api');
register();
await import('./basil.ts');
