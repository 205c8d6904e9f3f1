import type { NamedVantage, Vantage } from '../../core/rig';

/** A view as the only vantage of a rig, which its cues are looked at from. */
export const oneVantage = (view: Vantage): NamedVantage[] => [{ id: 'vantage-1', name: 'Vantage 1', ...view }];
