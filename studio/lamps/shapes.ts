import { readProfile, type LampShape, type Profile } from '../../core/lamps';
import { linear, logarithmic, type Quantity } from '../desk/quantity';

export const KINDS: { value: LampShape['kind']; label: string; title: string }[] = [
  { value: 'point', label: 'Point', title: 'Shines to all sides alike' },
  { value: 'spot', label: 'Spot', title: 'A cone with a soft edge' },
  { value: 'tube', label: 'Tube', title: 'A diffuse tube' },
  { value: 'panel', label: 'Panel', title: 'A diffuse rectangle, to one side' },
  { value: 'measured', label: 'IES', title: 'A measured distribution' },
];

/** A shape of a kind to start from; null where it needs a profile and there is none. */
export function shapeOf(kind: LampShape['kind'], profiles: readonly Profile[]): LampShape | null {
  switch (kind) {
    case 'point':
      return { kind, radiusM: 0.03 };
    case 'spot':
      return { kind, radiusM: 0.03, innerDeg: 20, outerDeg: 40, softness: 1 };
    case 'tube':
      return { kind, radiusM: 0.013, lengthM: 1.2 };
    case 'panel':
      return { kind, widthM: 0.6, heightM: 0.6 };
    case 'measured': {
      const [first] = profiles;
      if (!first) return null;
      const [width] = readProfile(first).file.opening;
      return { kind, radiusM: Math.min(0.5, Math.max(0.01, Math.abs(width) / 2)), profileId: first.id };
    }
  }
}

export interface ShapeRow {
  key: 'radiusM' | 'innerDeg' | 'outerDeg' | 'softness' | 'lengthM' | 'widthM' | 'heightM';
  label: string;
  hint: string;
  quantity: Quantity;
  preset: number;
}

const radius: ShapeRow = {
  key: 'radiusM',
  label: 'Radius',
  hint: 'Of what shines; it softens the shadows',
  quantity: logarithmic('m', 0.001, 10, { zero: true, digits: 2 }),
  preset: 0.03,
};
const size = (key: 'lengthM' | 'widthM' | 'heightM', label: string, preset: number): ShapeRow => ({
  key,
  label,
  hint: 'Of what shines',
  quantity: logarithmic('m', 0.01, 50, { digits: 3 }),
  preset,
});

/** The numbers of each kind of shape. */
export const SHAPE_ROWS: Readonly<Record<LampShape['kind'], readonly ShapeRow[]>> = {
  point: [radius],
  spot: [
    {
      key: 'innerDeg',
      label: 'Inner',
      hint: 'Half-angle up to which it is at its full',
      quantity: linear('°', 0, 180, 0.5, 1),
      preset: 20,
    },
    { key: 'outerDeg', label: 'Outer', hint: 'Half-angle from which on it is dark', quantity: linear('°', 0.5, 180, 0.5, 1), preset: 40 },
    {
      key: 'softness',
      label: 'Edge',
      hint: '0 falls straight from inner to outer, 1 smoothly',
      quantity: linear('', 0, 1, 0.05, 2),
      preset: 1,
    },
    radius,
  ],
  tube: [size('lengthM', 'Length', 1.2), { ...radius, preset: 0.013 }],
  panel: [size('widthM', 'Width', 0.6), size('heightM', 'Height', 0.6)],
  measured: [radius],
};
