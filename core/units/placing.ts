import type { Vec3 } from './angles';

/** How a file's own axes and unit lie in level space, which is in metres with Y up. */
export interface Placing {
  metresPerUnit: number;
  up: 'y' | 'z';
}

/** What glTF 2.0 says of itself: metres, Y up. */
export const AS_GLTF: Placing = { metresPerUnit: 1, up: 'y' };

/** Units that levels are made in, by what they are called. */
export const LEVEL_UNITS: readonly { name: string; metres: number }[] = [
  { name: 'metres', metres: 1 },
  { name: 'centimetres', metres: 0.01 },
  { name: 'inches', metres: 0.0254 },
  { name: 'feet', metres: 0.3048 },
  { name: 'millimetres', metres: 0.001 },
  { name: 'hundreds of metres', metres: 100 },
];

/** Whether a level lies alike by both; one that nobody has chosen is as glTF says. */
export const samePlacing = (a: Placing | null | undefined, b: Placing | null | undefined): boolean =>
  (a ?? AS_GLTF).metresPerUnit === (b ?? AS_GLTF).metresPerUnit && (a ?? AS_GLTF).up === (b ?? AS_GLTF).up;

/** What a placing is called. */
export const placingName = ({ metresPerUnit, up }: Placing): string =>
  `${LEVEL_UNITS.find(({ metres }) => metres === metresPerUnit)?.name ?? `units of ${metresPerUnit} m`}, ${up.toUpperCase()} up`;

/** Turns a point with the level, from how it lay to how it is to lie. */
export function movedPoint([x, y, z]: Readonly<Vec3>, from: Placing, to: Placing): Vec3 {
  const scale = to.metresPerUnit / from.metresPerUnit;
  const turned: Vec3 = from.up === to.up ? [x, y, z] : to.up === 'z' ? [x, z, -y] : [x, -z, y];
  return turned.map((v) => v * scale) as Vec3;
}
