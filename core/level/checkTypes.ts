import type { GLTF } from '@gltf-transform/core';

/** A description whose values are not of the types that glTF 2.0 gives them: what reads it would stumble anywhere. */
export class WrongTypes extends Error {}

const isCount = (value: unknown) => typeof value === 'number' && Number.isSafeInteger(value) && value >= 0;
const isText = (value: unknown) => typeof value === 'string';
const isList = (of: (value: unknown) => boolean) => (value: unknown) => Array.isArray(value) && value.every(of);
const isNumber = (value: unknown) => typeof value === 'number' && Number.isFinite(value);
const values = (count: number) => (value: unknown) =>
  Array.isArray(value) && value.length === count && value.every((v) => typeof v === 'number' || v === null);
const isObject = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null && !Array.isArray(value);

const numbers = (count: number) => (value: unknown) => Array.isArray(value) && value.length === count && value.every(isNumber);
/** An object whose values, where they are there, pass. */
const isOf = (fields: Fields) => (value: unknown) =>
  isObject(value) && Object.entries(fields).every(([key, passes]) => value[key] === undefined || passes(value[key]));

type Fields = Record<string, (value: unknown) => boolean>;

const VIEW: Fields = { buffer: isCount, byteOffset: isCount, byteLength: isCount, byteStride: isCount };
const TEXTURE: Fields = {
  index: isCount,
  texCoord: isCount,
  scale: isNumber,
  strength: isNumber,
  extensions: isOf({ KHR_texture_transform: isOf({ offset: numbers(2), scale: numbers(2), rotation: isNumber, texCoord: isCount }) }),
};
const MATERIAL: Fields = {
  alphaMode: isText,
  alphaCutoff: isNumber,
  emissiveFactor: numbers(3),
  doubleSided: (value) => typeof value === 'boolean',
  pbrMetallicRoughness: isOf({
    baseColorFactor: numbers(4),
    metallicFactor: isNumber,
    roughnessFactor: isNumber,
    baseColorTexture: isOf(TEXTURE),
    metallicRoughnessTexture: isOf(TEXTURE),
  }),
  normalTexture: isOf(TEXTURE),
  occlusionTexture: isOf(TEXTURE),
  emissiveTexture: isOf(TEXTURE),
  extensions: isOf({
    KHR_materials_emissive_strength: isOf({ emissiveStrength: isNumber }),
    KHR_materials_transmission: isOf({ transmissionFactor: isNumber, transmissionTexture: isOf(TEXTURE) }),
  }),
};

/** The values that Basil's own checks and its reader of glTF rely on, by the lists of a glTF; each may be left out. */
const LISTS: Record<string, Fields> = {
  buffers: { byteLength: isCount, uri: isText },
  bufferViews: {
    ...VIEW,
    extensions: isOf({
      EXT_meshopt_compression: isOf({ ...VIEW, count: isCount }),
      KHR_meshopt_compression: isOf({ ...VIEW, count: isCount }),
    }),
  },
  accessors: { bufferView: isCount, byteOffset: isCount, componentType: isCount, count: isCount, type: isText, sparse: isObject },
  meshes: { primitives: isList(isObject) },
  nodes: {
    mesh: isCount,
    children: isList(isCount),
    // No number (null in JSON) spoils one object, which is left behind and said.
    matrix: values(16),
    translation: values(3),
    rotation: values(4),
    scale: values(3),
  },
  scenes: { nodes: isList(isCount) },
  materials: MATERIAL,
  textures: { source: isCount, sampler: isCount },
  images: { uri: isText, mimeType: isText, bufferView: isCount },
  samplers: { magFilter: isCount, minFilter: isCount, wrapS: isCount, wrapT: isCount },
  animations: {},
  skins: { joints: isList(isCount), inverseBindMatrices: isCount, skeleton: isCount },
  cameras: {},
};
/** What every item of a list may have. */
const EVERY: Fields = { name: isText, extensions: isObject };
/** What has to be there. */
const NEEDED: Record<string, readonly string[]> = {
  bufferViews: ['buffer', 'byteLength'],
  accessors: ['componentType', 'count', 'type'],
  meshes: ['primitives'],
};
const PRIMITIVE: Fields = {
  attributes: (a) => isObject(a) && Object.values(a).every(isCount),
  indices: isCount,
  material: isCount,
  // Points, lines, triangles and their strips.
  mode: (mode) => isCount(mode) && (mode as number) <= 6,
};

function check(item: unknown, fields: Fields, needed: readonly string[], where: string): asserts item is Record<string, unknown> {
  if (!isObject(item)) throw new WrongTypes(`${where} is no object`);
  for (const key of needed) if (item[key] === undefined) throw new WrongTypes(`${where} has no ${key}`);
  for (const key in fields)
    if (item[key] !== undefined && !fields[key]!(item[key])) throw new WrongTypes(`${where}/${key} is of a wrong type`);
}

/** Checks the types of a glTF's values. Throws {@link WrongTypes}, which names the first place. */
export function checkTypes(json: GLTF.IGLTF): void {
  const whole = json as unknown as Record<string, unknown>;
  check(whole, { scene: isCount, extensionsUsed: isList(isText), extensionsRequired: isList(isText), extensions: isObject }, [], '');
  if (!isText(json.asset.version)) throw new WrongTypes('/asset/version is no text');
  for (const [list, fields] of Object.entries(LISTS)) {
    const items = whole[list];
    if (items === undefined) continue;
    if (!Array.isArray(items)) throw new WrongTypes(`/${list} is no list`);
    const all = { ...EVERY, ...fields };
    items.forEach((item, i) => check(item, all, NEEDED[list] ?? [], `/${list}/${i}`));
  }
  (json.meshes ?? []).forEach(({ primitives }, i) =>
    primitives.forEach((primitive, k) => check(primitive, PRIMITIVE, ['attributes'], `/meshes/${i}/primitives/${k}`)),
  );
}
