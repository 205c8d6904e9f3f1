import type { Color, MeshLambertMaterial, Texture } from 'three';
import { shownGlow, type CircuitGain, type StandingGlow } from '../../../core/rig';
import { hexFromRgb, luminance, scaleRgb, type Rgb } from '../../../core/units';

/** What a material of the picture remembers of the level's. */
export interface GlowData {
  source: string;
  emissive: Rgb;
  strength: number;
  /** While it is shown white. */
  color?: Color;
  map?: Texture | null;
}

/** A material that glows by itself: its name as its file has it, its luminance in cd/m2, and its hue. */
export interface OwnGlow {
  name: string;
  luminance: number;
  color: string;
}

/** The materials among these that glow by themselves. */
export function glowsOf(materials: Iterable<MeshLambertMaterial>): OwnGlow[] {
  const found = new Map<string, OwnGlow>();
  for (const { userData } of new Set(materials)) {
    const { source, emissive, strength } = userData as GlowData;
    const level = luminance(emissive) * strength;
    if (level <= (found.get(source)?.luminance ?? 0)) continue;
    found.set(source, { name: source, luminance: level, color: hexFromRgb(scaleRgb(emissive, 1 / Math.max(...emissive))) });
  }
  return [...found.values()];
}

/** Shows what a material sends out by a rule, at what its circuit burns. */
export function showGlow(material: MeshLambertMaterial, glow: StandingGlow | null, circuits: readonly CircuitGain[]): void {
  const { emissive, strength } = material.userData as GlowData;
  material.emissive.setRGB(...scaleRgb(shownGlow(glow, circuits, scaleRgb(emissive, strength)), 1 / strength));
}
