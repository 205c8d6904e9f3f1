// Compiles the ray kernel when that is needed: what runs TypeScript straight from its source needs it.
import { ensureKernel } from './lib/kernel.mjs';

ensureKernel();
