import { DataArrayTexture, DataTexture, FloatType, HalfFloatType, RGBAFormat, type ShaderMaterial, type Vector3 } from 'three';
import {
  DIRECT_MOST,
  LAYER,
  gainsOfLayers,
  gainsWithout,
  partGains,
  type BakedParts,
  type CompactTable,
  type Gains,
  type HalfStems,
  type PartGains,
  type RgbGains,
  type SomeLayers,
} from '../../../core/bake';
import type { Codes } from './codes';
import { MOST_COLORS, MOST_DIRECT, MOST_GROUPS, MOST_LAYERS } from './mixShader';
import { ROW, placesTexture } from './places';

/** Stems on the graphics card, and what mixes them into rows of a map: some layers as halves, and the others from compact parts. */
export class Source {
  readonly height: number;
  private readonly halves: DataArrayTexture | null;
  private readonly places: DataTexture | null;
  private readonly tables: (DataTexture | null)[] = Array.from({ length: MOST_GROUPS }, () => null);

  /**
   * @param held what it has as halves
   * @param top the first of its rows
   * @param codes of the whole map, whoever's they are
   */
  constructor(
    private readonly held: SomeLayers,
    readonly top: number,
    private readonly codes: Codes | null,
    readonly material: ShaderMaterial,
  ) {
    const { stems, layers } = held;
    this.height = stems.height;
    const { uniforms, defines } = material;
    this.halves = layers.length > 0 ? stemTexture(stems) : null;
    // A whole map lies where its codes do.
    this.places = codes && top === 0 && layers.length === 0 ? null : placesTexture(stems);
    if (this.halves) defines.HALVES = 1;
    uniforms.stems!.value = this.halves;
    uniforms.places!.value = this.places ?? codes!.places;
    uniforms.top!.value = top;
  }

  /** Tells the material what everything is multiplied by. */
  set(gains: Gains, baked: BakedParts, unit: number, asDirection: boolean): void {
    const { material, held, codes } = this;
    material.uniforms.asDirection!.value = asDirection;
    if (this.halves) setHalves(material, held.stems, gainsOfLayers(gains, held.layers), unit);
    if (codes) this.setCodes(codes, gainsWithout(gains, held.layers), baked, unit);
    material.uniformsNeedUpdate = true;
  }

  private setCodes(codes: Codes, gains: Gains, baked: BakedParts, unit: number): void {
    const { uniforms } = this.material;
    const groups = uniforms.groups!.value as Int32Array;
    groups.fill(0);
    let group = 0;
    const [colors, direct]: [Weighted[], Weighted[]] = [[], []];
    uniforms.noisePlane!.value = -1;
    for (const { part, first } of codes.parts) {
      const own = partGains(part, baked, gains);
      if (part.kind === 'group' && group < MOST_GROUPS) {
        if (own?.kind === 'group') {
          groups.set([first, part.basis.fine, part.basis.coarse, 1], group * 4);
          this.putTable(group, part, own.table, unit);
        }
        group++;
      }
      if (own?.kind === 'colors') colors.push(...weightedColors(part as CompactTable & { kind: 'colors' }, first, own.gains, unit));
      if (own?.kind === 'direct') direct.push({ plane: first, gains: own.gains.map((v) => (v * DIRECT_MOST) / unit) });
      if (own?.kind === 'noise') this.setNoise(first, own, unit);
    }
    setWeighted(uniforms, 'color', colors, MOST_COLORS);
    setWeighted(uniforms, 'direct', direct, MOST_DIRECT);
  }

  private setNoise(plane: number, { gathered, all, kinds }: PartGains & { kind: 'noise' }, unit: number): void {
    const { uniforms } = this.material;
    const put = (to: Vector3, gains: RgbGains) => void to.set(...(gains as [number, number, number])).divideScalar(unit);
    uniforms.noisePlane!.value = plane;
    put(uniforms.gatheredGain!.value as Vector3, gathered);
    put(uniforms.allGain!.value as Vector3, all);
    kinds.forEach((gains, k) => put((uniforms.noiseGains!.value as Vector3[])[k]!, gains));
  }

  /** Takes the table of a group to the graphics card: a row for each cluster, its mean first. */
  private putTable(group: number, { basis }: CompactTable & { kind: 'group' }, table: Float32Array, unit: number): void {
    const [wide, clusters] = [basis.fine + basis.coarse + 1, basis.clusters];
    const texture = (this.tables[group] ??= newTable(wide, clusters));
    const data = texture.image.data as Float32Array;
    for (let i = 0; i < wide * clusters; i++) for (let c = 0; c < 3; c++) data[i * 4 + c] = table[i * 3 + c]! / unit;
    texture.needsUpdate = true;
    this.material.uniforms[`table${group}`]!.value = texture;
  }

  dispose(): void {
    for (const owned of [this.halves, this.places, this.material, ...this.tables]) owned?.dispose();
  }
}

/** Bytes of the codes from a plane on, and what they are multiplied by. */
interface Weighted {
  plane: number;
  gains: number[];
}

function newTable(wide: number, clusters: number): DataTexture {
  return new DataTexture(new Float32Array(wide * clusters * 4), wide, clusters, RGBAFormat, FloatType);
}

const weightedColors = (
  { largest }: CompactTable & { kind: 'colors' },
  first: number,
  gains: readonly RgbGains[],
  unit: number,
): Weighted[] =>
  gains.flatMap((own, k) => (own.some((v) => v !== 0) ? [{ plane: first + 3 * k, gains: own.map((v) => (v * largest[k]!) / unit) }] : []));

/** Sets what of some kind takes part: of more than there is room for the strongest. */
function setWeighted(uniforms: ShaderMaterial['uniforms'], kind: 'color' | 'direct', all: readonly Weighted[], most: number): void {
  const strength = ({ gains }: Weighted) => Math.max(...gains.map(Math.abs));
  const used = all.length > most ? [...all].sort((a, b) => strength(b) - strength(a)).slice(0, most) : all;
  uniforms[`${kind}Count`]!.value = used.length;
  used.forEach(({ plane, gains }, k) => {
    (uniforms[`${kind}Planes`]!.value as Int32Array)[k] = plane;
    (uniforms[`${kind}Gains`]!.value as Vector3[])[k]!.fromArray(gains);
  });
}

/** Tells a material what its layers of halves are multiplied by. */
function setHalves({ uniforms }: ShaderMaterial, stems: HalfStems, { colors, fourths }: Gains, unit: number): void {
  const { count, layers, colors: c, fourths: f } = uniforms;
  const used = usedLayers({ colors, fourths }, stems.scales);
  count!.value = used.length;
  used.forEach((layer, k) => {
    const gain = stems.scales[layer]! / unit;
    (layers!.value as Int32Array)[k] = layer;
    (c!.value as Vector3[])[k]!.fromArray(colors, layer * 3).multiplyScalar(gain);
    (f!.value as Vector3[])[k]!.fromArray(fourths, layer * 3).multiplyScalar(gain);
  });
}

/** The stems of a map, their texels one after another in rows. */
function stemTexture({ at, scales, halves }: HalfStems): DataArrayTexture {
  const rows = Math.max(1, Math.ceil(at.length / ROW));
  const layer = at.length * LAYER;
  const padded = new Uint16Array(rows * ROW * LAYER * scales.length);
  for (let k = 0; k < scales.length; k++) padded.set(halves.subarray(k * layer, (k + 1) * layer), k * rows * ROW * LAYER);
  const texture = new DataArrayTexture(padded, ROW, rows, scales.length);
  texture.format = RGBAFormat;
  texture.type = HalfFloatType;
  texture.needsUpdate = true;
  return texture;
}

/** Layers that take part in a mix. */
function usedLayers({ colors, fourths }: Gains, scales: Float32Array): number[] {
  const strength = (layer: number) =>
    scales[layer]! * Math.max(...[0, 1, 2].map((c) => Math.max(Math.abs(colors[layer * 3 + c]!), Math.abs(fourths[layer * 3 + c]!))));
  const used = Array.from(scales.keys()).filter((layer) => strength(layer) > 0);
  if (used.length <= MOST_LAYERS) return used;
  return used.sort((a, b) => strength(b) - strength(a)).slice(0, MOST_LAYERS);
}
