import { FACES, type Face, type Panorama } from '../sky';
import { Failure } from '../units';
import { fromFaces } from './layout';

const refuse = (what: string, remedy: string): never => {
  throw new Failure('bad-input', what, remedy);
};

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
