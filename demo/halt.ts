import { Parts } from './parts';
import { arcadedRange } from './ranges';
import { YARD } from './layout';
import { yard } from './yard';
import { cistern, domedCorner, gatehouse, market, stables, watchtower } from './buildings';
import { furnish } from './furnishings';
import { upland } from './upland';

/** All objects of Tamarisk Halt: a walled caravanserai on a dry upland road. */
export function tamariskHalt(): Parts {
  const parts = new Parts();
  yard(parts);
  arcadedRange(parts, { name: 'North range', x: YARD.east, z: YARD.north, headingDeg: 180, length: 36, depth: 6, bays: 9 });
  arcadedRange(parts, { name: 'West range', x: YARD.west, z: YARD.north, headingDeg: 90, length: 26, depth: 6, bays: 6 });
  domedCorner(parts);
  stables(parts);
  gatehouse(parts);
  cistern(parts);
  market(parts);
  watchtower(parts);
  furnish(parts);
  upland(parts);
  return parts;
}
