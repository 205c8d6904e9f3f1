import type { Air } from './air';
import { buildDiffuse, type Diffuse } from './diffuse';
import { buildTransmittance, type Transmittance } from './transmittance';

/** All that is worked out of an air before any sky is looked at. */
export interface AirTables {
  transmittance: Transmittance;
  diffuse: Diffuse;
}

export function buildAirTables(air: Air): AirTables {
  const transmittance = buildTransmittance(air);
  return { transmittance, diffuse: buildDiffuse(air, transmittance) };
}
