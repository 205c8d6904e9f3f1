import { dirname, relative, resolve, sep } from 'node:path';

/**
 * Which rooms of the house each room may import from, besides itself; a room is named by its folders. What is not listed
 * here may import anything.
 *
 * @type {Readonly<Record<string, readonly string[]>>}
 */
export const ARROWS = {
  'core/units': [],
  'core/almanac': ['core/units'],
  'core/sky': ['core/units'],
  'core/rgbe': ['core/units', 'core/sky'],
  'core/exr': [],
  'core/image': ['core/units', 'core/sky', 'core/grade', 'core/rgbe', 'core/exr'],
  'core/fog': ['core/units', 'core/sky'],
  'core/lamps': ['core/units'],
  'core/weather': ['core/units'],
  'core/roles': ['core/units'],
  'core/objects': ['core/units'],
  'core/rig': [
    'core/units',
    'core/almanac',
    'core/sky',
    'core/lamps',
    'core/fog',
    'core/grade',
    'core/weather',
    'core/roles',
    'core/objects',
  ],
  'core/grade': ['core/units'],
  'core/compare': ['core/units', 'core/grade'],
  'core/level': ['core/units', 'core/image', 'core/lamps', 'core/roles'],
  'core/trace': ['core/units', 'core/level'],
  'core/bake': ['core/units', 'core/sky', 'core/lamps', 'core/rig', 'core/level', 'core/trace', 'core/roles'],
  'core/preview': ['core/units', 'core/roles', 'core/sky', 'core/fog', 'core/grade', 'core/rig', 'core/level', 'core/trace', 'core/bake'],
  'core/preflight': ['core/units', 'core/roles', 'core/lamps', 'core/rig', 'core/level', 'core/trace', 'core/bake'],
  'core/estimate': ['core/units', 'core/roles', 'core/rig', 'core/level', 'core/bake'],
  'core/density': ['core/units', 'core/rig', 'core/level', 'core/trace', 'core/bake', 'core/preview'],
  'core/api': ['core/units', 'core/image', 'core/rig', 'core/level', 'core/bake', 'core/preflight', 'core/density'],
  server: ['core'],
  studio: ['core'],
  app: ['studio', 'server', 'core'],
  demo: ['core'],
};

/** The room a file stands in: two folders deep in core, one elsewhere. */
function roomOf(path) {
  const folders = path.split(sep);
  return folders[0] === 'core' ? folders.slice(0, 2).join('/') : folders[0];
}

/** What an import breaks, in words, or null. Both paths are relative to the project. */
export function wallBroken(from, to) {
  const [here, there] = [roomOf(from), roomOf(to)];
  const allowed = ARROWS[here];
  if (here === there || (there === 'tests' && /\.test\.tsx?$/.test(from))) return null;
  if (allowed && !allowed.some((room) => there === room || there.startsWith(`${room}/`))) return `${here} may not import from ${there}.`;
  const inside = there.startsWith('core/') && to.split(sep).length > 2;
  return inside ? `Import from ${there}, its face, not from what is private to it.` : null;
}

/** @type {import('eslint').Rule.RuleModule} */
export const wallsRule = {
  meta: { type: 'problem', docs: { description: 'imports keep to the walls between the folders' }, schema: [] },
  create(context) {
    const check = (node) => {
      const target = node.source?.value;
      if (typeof target !== 'string' || !target.startsWith('.')) return;
      const from = relative(context.cwd, context.filename);
      const to = relative(context.cwd, resolve(dirname(context.filename), target));
      const message = wallBroken(from, to);
      if (message) context.report({ node, message });
    };
    return { ImportDeclaration: check, ExportNamedDeclaration: check, ExportAllDeclaration: check, ImportExpression: check };
  },
};
