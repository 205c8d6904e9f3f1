import { unzipSync } from 'fflate';
import { FACES, type Face, type Panorama } from '../sky';
import { Failure } from '../units';
import { fromFaces } from './layout';

/** A file of its name. */
export interface NamedFile {
  name: string;
  bytes: Uint8Array;
}

const refuse = (what: string, remedy: string): never => {
  throw new Failure('bad-input', what, remedy);
};
/** The images in a zip archive, unpacked up to a number of bytes in all. Throws a `bad-input` Failure. */
export function unzipImages(bytes: Uint8Array, name: string, mostBytes: number): NamedFile[] {
  let all = 0;
  try {
    const files = unzipSync(bytes, {
      filter: ({ name: path, originalSize }) => {
        // Folders, and what a file manager leaves beside the files.
        if (originalSize === 0 || /(^|\/)(\.|__MACOSX\/)/.test(path)) return false;
        all += originalSize;
        if (all > mostBytes)
          refuse(`${name} unpacks to more than ${Math.round(mostBytes / 1e6)} MB.`, 'Bring smaller images; light needs no more.');
        return true;
      },
    });
    return Object.entries(files).map(([path, content]) => ({ name: path, bytes: content }));
  } catch (error) {
    if (error instanceof Failure) throw error;
    throw new Failure('bad-input', `${name} is a damaged zip archive.`, 'Pack its six images again.', { cause: error });
  }
}

/** Six images as one panorama. Throws a `bad-input` Failure where one is not square, or not of the size of the others. */
export function joinFaces(faces: Readonly<Record<Face, { name: string; image: Panorama }>>): Panorama {
  const edge = faces.right.image.width;
  for (const face of FACES) {
    const { name, image } = faces[face];
    if (image.width !== edge || image.height !== edge)
      refuse(
        `${name}, the ${face} face, is ${image.width} x ${image.height}; a face is square, and all are of one size.`,
        'Export the six faces anew.',
      );
  }
  return fromFaces(Object.fromEntries(FACES.map((face) => [face, faces[face].image])) as Record<Face, Panorama>);
}
