// Packages that ship as ES modules only and have to be transformed to run under Jest.
const ESM = [
  'd3',
  'd3-[a-z-]+',
  'internmap',
  'delaunator',
  'robust-predicates',
  'three',
  'three-mesh-bvh',
  'kysely',
  '@gltf-transform',
  'property-graph',
  'meshoptimizer',
  'ktx-parse',
  'watlas',
  'fflate',
  'immer',
  'zustand',
];

const common = {
  rootDir: import.meta.dirname,
  testEnvironment: 'node',
  // Globals are looked up through the sandbox at each use, a hundred times slower than these, handed to every module.
  sandboxInjectedGlobals: ['Math', 'Number', 'Infinity', 'Float32Array', 'Float64Array', 'Uint32Array', 'Uint8Array', 'Int32Array'],
  transform: {
    '^.+\\.(ts|tsx|mjs|js)$': [
      '@swc/jest',
      { jsc: { parser: { syntax: 'typescript', tsx: true }, target: 'es2022' }, module: { type: 'commonjs' } },
    ],
  },
  transformIgnorePatterns: [`/node_modules/(?!(${ESM.join('|')})/)`],
  modulePathIgnorePatterns: ['<rootDir>/.next', '<rootDir>/.basil'],
};

/** Unit tests stand beside what they test, and those of commands and their folders; those of the database and of the whole application are under tests/. */
export default {
  // Database and browser tests run side by side, on machines that others use as well: a limit ends what hangs, and measures nothing.
  testTimeout: 900_000,
  projects: [
    { ...common, displayName: 'unit', testMatch: ['<rootDir>/{core,studio,server/!(folder),lint,demo}/**/*.test.ts'] },
    { ...common, displayName: 'command-line', testMatch: ['<rootDir>/{bin,server/folder}/**/*.test.ts'] },
    { ...common, displayName: 'database', testMatch: ['<rootDir>/tests/database/**/*.test.ts'] },
    { ...common, displayName: 'end-to-end', testMatch: ['<rootDir>/tests/end-to-end/**/*.test.ts'] },
  ],
};
