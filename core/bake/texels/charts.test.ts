import { askew, quadSurfaces, room } from '../../../tests/lib/level';
import type { Surfaces } from '../../level';
import { chartOfVertex } from './charts';

const layout = { texelsPerM: 5, maxMapSize: 128 };

let level: Surfaces;
let slanted: Surfaces;
beforeAll(async () => {
  [level, slanted] = [await quadSurfaces(room(0, 4, { albedo: 0.5 }), layout), await quadSurfaces(askew, layout)];
});

describe('charts', () => {
  it('are told apart by the vertices that triangles share, and by where they meet on the map', () => {
    for (const [surfaces, count] of [
      [level, 6],
      [slanted, 3],
    ] as const) {
      const charts = chartOfVertex(surfaces);
      expect(new Set(charts).size).toBe(count);
      const { indices, objectOf, mapOf } = surfaces;
      // All corners of one flat quad are of one chart, and of no other quad's.
      const chartsOf = new Map<number, Set<number>>();
      for (let t = 0; t < mapOf.length; t++) {
        const own = chartsOf.get(objectOf[t]!) ?? new Set();
        for (let k = 0; k < 3; k++) own.add(charts[indices[t * 3 + k]!]!);
        chartsOf.set(objectOf[t]!, own);
      }
      for (const own of chartsOf.values()) expect(own.size).toBe(1);
      expect(chartOfVertex(surfaces)).toBe(charts);
    }
  });
});
