import type { Lamp } from '../../core/lamps';
import type { GlowRule } from '../../core/rig';

/** A plain lamp of 1000 lm that shines down, with what a test changes about it. */
export const lampWith = (change: Partial<Lamp> = {}): Lamp => ({
  id: 'a',
  name: 'A',
  at: [0, 0, 0],
  aim: { azimuthDeg: 0, elevationDeg: -90, rollDeg: 0 },
  shape: { kind: 'point', radiusM: 0 },
  output: { by: 'lumens', lumens: 1000 },
  color: { by: 'kelvin', kelvin: 3000 },
  reachM: null,
  circuitId: null,
  kept: 'all',
  motion: null,
  ...change,
});

/** A rule of glow for all that has a material, as the material says. */
export const glow = (id: string, material: string, circuitId: string | null): GlowRule => ({
  id,
  material,
  objects: null,
  circuitId,
  emission: null,
  shownEv: 0,
});
