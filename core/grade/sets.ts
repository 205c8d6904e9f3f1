import { NO_CDL } from './cdl';
import { NEUTRAL_GRADE, type Grade } from './grade';
import { NO_ZONES } from './zones';

/** A grade on the shelf. */
export interface NamedGrade {
  id: string;
  name: string;
  grade: Grade;
}

const set = (id: string, name: string, change: Partial<Grade>): NamedGrade => ({ id, name, grade: { ...NEUTRAL_GRADE, ...change } });

/** Grades that Basil brings along. None lifts mid-grey by more than a third of a stop: exposure stays with the exposure. */
export const SHIPPED_GRADES: readonly NamedGrade[] = [
  set('neutral', 'Neutral', {}),
  set('dry-heat', 'Dry heat', {
    whiteBalance: { ...NEUTRAL_GRADE.whiteBalance, kelvin: 7600 },
    cdl: { ...NO_CDL, saturation: 0.9 },
    contrast: { ...NEUTRAL_GRADE.contrast, amount: 1.12 },
    bloom: { ...NEUTRAL_GRADE.bloom, amount: 0.12 },
  }),
  set('cold-air', 'Cold air', {
    whiteBalance: { ...NEUTRAL_GRADE.whiteBalance, kelvin: 5600 },
    cdl: { ...NO_CDL, saturation: 0.82 },
    zones: { ...NO_ZONES, shadows: { ev: 0, tint: '#dfe8ff' } },
  }),
  set('overcast-grey', 'Overcast grey', {
    cdl: { ...NO_CDL, saturation: 0.62 },
    contrast: { ...NEUTRAL_GRADE.contrast, amount: 0.92 },
  }),
  set('night-eye', 'Night eye', {
    nightVision: 0.7,
    zones: { ...NO_ZONES, shadows: { ev: 0.5, tint: '#ffffff' }, lowEv: -3 },
    bloom: { ...NEUTRAL_GRADE.bloom, amount: 0.2, size: 0.06 },
  }),
  set('lamp-light', 'Lamp light', {
    whiteBalance: { ...NEUTRAL_GRADE.whiteBalance, kelvin: 5000, adapt: 0.3 },
    bloom: { ...NEUTRAL_GRADE.bloom, amount: 0.3, size: 0.05 },
    vignette: { ...NEUTRAL_GRADE.vignette, ev: 0.5 },
  }),
  set('deep-contrast', 'Deep contrast', {
    contrast: { ...NEUTRAL_GRADE.contrast, amount: 1.35 },
    cdl: { ...NO_CDL, saturation: 1.08 },
    zones: { ...NO_ZONES, shadows: { ev: -0.3, tint: '#ffffff' } },
  }),
  set('open-shade', 'Open shade', {
    zones: { ...NO_ZONES, shadows: { ev: 0.9, tint: '#ffffff' }, lights: { ev: -0.3, tint: '#ffffff' } },
  }),
];
