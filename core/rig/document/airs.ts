import { CLEAR_AIR, type Air } from '../../sky';
import { sameJson, scaleRgb, type Rgb } from '../../units';
import type { NamedAir, Rig } from './types';

const air = (change: Partial<Air>): Air => ({ ...CLEAR_AIR, ...change });
const haze = (times: number, tint: Rgb = [1, 1, 1]): Pick<Air, 'haze' | 'hazeAbsorption'> => ({
  haze: scaleRgb(CLEAR_AIR.haze, times).map((v, c) => v * tint[c]!) as Rgb,
  hazeAbsorption: scaleRgb(CLEAR_AIR.hazeAbsorption, times),
});

/**
 * Air of the Earth as the display's own primaries see it: Rayleigh's law and the ozone cross-sections at 615, 545 and 460 nm,
 * where their weight lies, in place of the 680, 550 and 440 nm of the published defaults. Twilight is bluer by it.
 */
const EARTHLY: Pick<Air, 'molecules' | 'absorption'> = { molecules: [8.67e-6, 14.06e-6, 27.7e-6], absorption: [2.5e-6, 1.7e-6, 0.15e-6] };

/** The shelf of airs that come with Basil. They are never changed: a change makes a copy in the project. */
export const SHIPPED_AIRS: readonly NamedAir[] = [
  { id: 'clear', name: 'Clear, sea level', air: CLEAR_AIR },
  { id: 'temperate', name: 'Clear, temperate', air: air(EARTHLY) },
  { id: 'upland', name: 'Dry upland', air: air({ ...EARTHLY, ...haze(2.5), hazeHeightM: 900, groundAlbedo: [0.36, 0.29, 0.21] }) },
  {
    id: 'humid',
    name: 'Humid shore',
    air: air({ ...EARTHLY, ...haze(9), hazeHeightM: 1600, hazeForward: 0.76, groundAlbedo: [0.08, 0.11, 0.12] }),
  },
  {
    id: 'dusty',
    name: 'Dust in the air',
    air: air({
      ...EARTHLY,
      ...haze(26, [1, 0.94, 0.82]),
      hazeAbsorption: [4e-6, 1.2e-5, 3.4e-5],
      hazeHeightM: 1400,
      hazeForward: 0.72,
      groundAlbedo: [0.4, 0.3, 0.2],
    }),
  },
  {
    id: 'thin-red',
    name: 'Thin and rusty',
    air: air({
      molecules: scaleRgb(CLEAR_AIR.molecules, 0.02),
      ...haze(12, [0.9, 0.9, 1]),
      hazeAbsorption: [1e-6, 8e-6, 2.4e-5],
      hazeHeightM: 9000,
      hazeForward: 0.68,
      absorption: [0, 0, 0],
      groundAlbedo: [0.32, 0.17, 0.09],
    }),
  },
  {
    id: 'deep',
    name: 'Deep and heavy',
    air: air({
      molecules: scaleRgb(CLEAR_AIR.molecules, 3.2),
      moleculesHeightM: 11_000,
      ...haze(4),
      absorption: scaleRgb(CLEAR_AIR.absorption, 2),
    }),
  },
  { id: 'verdant', name: 'Green world', air: air({ molecules: [6e-6, 2.6e-5, 1.2e-5], ...haze(3), absorption: [1.4e-6, 0.1e-6, 1.2e-6] }) },
];

/** All airs that a rig may use: those that ship, each as the project has it where it has a copy, and the project's own. */
export function airShelf({ airs }: Pick<Rig, 'airs'>): NamedAir[] {
  const isShipped = (air: NamedAir) => SHIPPED_AIRS.some((s) => s.id === air.id);
  return [...airs.filter((a) => !isShipped(a)), ...SHIPPED_AIRS.map((s) => airs.find((a) => a.id === s.id) ?? s)];
}

/** Copies the shipped airs that a rig uses into it, under their ids: what ships may change, and the rig stays as it was made. */
export function pinAirs(rig: Pick<Rig, 'airs' | 'airId' | 'cues'>): void {
  const used = new Set([rig.airId, ...rig.cues.flatMap(({ holds }) => holds.airId ?? [])]);
  for (const shipped of SHIPPED_AIRS)
    if (used.has(shipped.id) && !rig.airs.some((a) => a.id === shipped.id)) rig.airs.push(JSON.parse(JSON.stringify(shipped)) as NamedAir);
}

/** A shipped air that a rig has a copy of which is not as it ships by now. */
export interface ShippedChange {
  id: string;
  name: string;
  /** Fields of the air that differ. */
  fields: (keyof Air)[];
}

/** The airs of a rig that are copies of shipped ones as they were. */
export function shippedChanges({ airs }: Pick<Rig, 'airs'>, shipped: readonly NamedAir[] = SHIPPED_AIRS): ShippedChange[] {
  return shipped.flatMap(({ id, name, air: now }) => {
    const then = airs.find((a) => a.id === id)?.air;
    const fields = then ? (Object.keys(now) as (keyof Air)[]).filter((key) => !sameJson(then[key], now[key])) : [];
    return fields.length > 0 ? [{ id, name, fields }] : [];
  });
}

/** An air of the shelf by its id: the project's own before the shipped ones; the first shipped one where there is none such. */
export function airById(rig: Pick<Rig, 'airs'>, id: string): NamedAir {
  return rig.airs.find((a) => a.id === id) ?? SHIPPED_AIRS.find((a) => a.id === id) ?? SHIPPED_AIRS[0]!;
}
