import type { Surfaces } from './types';

/** A level whose arrays lie in memory that threads share, so that it is there once however many trace it. */
export function shareSurfaces(surfaces: Surfaces): Surfaces {
  return {
    ...surfaces,
    positions: new Float32Array(shared(surfaces.positions)),
    normals: new Float32Array(shared(surfaces.normals)),
    uv: new Float32Array(shared(surfaces.uv)),
    lightmapUv: new Float32Array(shared(surfaces.lightmapUv)),
    colors: new Float32Array(shared(surfaces.colors)),
    indices: new Uint32Array(shared(surfaces.indices)),
    materialOf: new Uint16Array(shared(surfaces.materialOf)),
    mapOf: new Uint16Array(shared(surfaces.mapOf)),
    objectOf: new Uint32Array(shared(surfaces.objectOf)),
    textures: surfaces.textures.map((t) => ({ ...t, data: new Uint8Array(shared(t.data)) })),
  };
}

function shared({ buffer, byteOffset, byteLength }: Float32Array | Uint32Array | Uint16Array | Uint8Array): SharedArrayBuffer {
  const out = new SharedArrayBuffer(byteLength);
  new Uint8Array(out).set(new Uint8Array(buffer, byteOffset, byteLength));
  return out;
}
