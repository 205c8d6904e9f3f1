import { Failure } from '../units';

/** A face of the cube about the eye. */
export type Face = 'right' | 'left' | 'up' | 'down' | 'front' | 'back';
/** Faces in the order of strips, and of cube maps. */
export const FACES: readonly Face[] = ['right', 'left', 'up', 'down', 'front', 'back'];

/** What the six files of a sky are called by custom, after the sky's own name: words, letters, or axes of a cube map. */
const NAMES: Readonly<Record<Face, readonly string[]>> = {
  right: ['right', 'rt', 'px', 'posx', '+x', '0'],
  left: ['left', 'lf', 'nx', 'negx', '-x', '1'],
  up: ['up', 'top', 'py', 'posy', '+y', '2'],
  down: ['down', 'dn', 'bottom', 'ny', 'negy', '-y', '3'],
  front: ['front', 'ft', 'pz', 'posz', '+z', '4'],
  back: ['back', 'bk', 'nz', 'negz', '-z', '5'],
};

/** The face that an image file is by the end of its name (`dusk_px.exr`, `right.png`); null where the name does not say. */
export function faceOfName(fileName: string): Face | null {
  const stem = (fileName.split(/[\\/]/).pop() ?? '').replace(/\.[a-z0-9]+$/i, '').toLowerCase();
  return (
    FACES.find((face) =>
      NAMES[face].some((name) => stem === name || (stem.endsWith(name) && /[^a-z0-9]$/.test(stem.slice(0, -name.length)))),
    ) ?? null
  );
}

const refuse = (what: string, remedy: string): never => {
  throw new Failure('bad-input', what, remedy);
};
const CALLED = `End their names with ${FACES.join(', ')}, or with px, nx, py, ny, pz, nz.`;

/** Six files as the faces of one sky, by their names. Throws a `bad-input` Failure that says which name is no face, or which face is there twice. */
export function sortFaces<T extends { name: string }>(files: readonly T[]): Record<Face, T> {
  if (files.length !== FACES.length)
    refuse(
      `A sky of single faces is six images; there are ${files.length}.`,
      'Bring its six faces together, or one image of the whole sky.',
    );
  const named = files.map((file) => ({ file, face: faceOfName(file.name) }));
  const unknown = named.find(({ face }) => face === null);
  if (unknown) refuse(`The name ${unknown.file.name} does not say which face of the sky it is.`, CALLED);
  return Object.fromEntries(
    FACES.map((face) => {
      const of = named.filter((n) => n.face === face);
      if (of.length > 1) refuse(`${of.map(({ file }) => file.name).join(' and ')} are both the ${face} face.`, CALLED);
      return [face, of[0]!.file];
    }),
  ) as Record<Face, T>;
}
