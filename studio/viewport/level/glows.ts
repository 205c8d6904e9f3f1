import type { Color, MeshLambertMaterial, Texture } from 'three';
import { luminance, type Rgb } from '../../../core/units';

/** What a material of the picture remembers of the level's. */
export interface GlowData {
  source: string;
  emissive: Rgb;
  strength: number;
  /** While it is shown white. */
  color?: Color;
  map?: Texture | null;
}

/** The materials among these that glow: their names as their file has them, and their luminance in cd/m2. */
export function glowsOf(materials: Iterable<MeshLambertMaterial>): { name: string; luminance: number }[] {
  const found = new Map<string, number>();
  for (const { userData, emissiveIntensity } of new Set(materials)) {
    const { source, emissive } = userData as GlowData;
    const level = luminance(emissive) * emissiveIntensity;
    if (level > 0) found.set(source, Math.max(found.get(source) ?? 0, level));
  }
  return [...found].map(([name, level]) => ({ name, luminance: level }));
}

/** Shows a material's glow as its circuit dims it. */
export function dimGlow(material: MeshLambertMaterial, gains: ReadonlyMap<string, Rgb>): void {
  const { source, emissive } = material.userData as GlowData;
  const gain = gains.get(source) ?? [1, 1, 1];
  material.emissive.setRGB(emissive[0] * gain[0], emissive[1] * gain[1], emissive[2] * gain[2]);
}
