// What is lost where light is mixed for an hour, or a sky, that was not traced itself.
import {
  aureoleLayer,
  aureolesOf,
  directTile,
  FIRST_SUN_LAYER,
  gatherTile,
  joinDirect,
  joinLight,
  layerCount,
  mixGains,
  planBake,
  planTiles,
  readColumn,
  solveBounce,
  startOffset,
  type BakePlan,
  type Scene,
  type TileStems,
} from '../../core/bake';
import { resolveCue, resolveHour, type Lighting, type Rig } from '../../core/rig';
import { evaluateDome, skyDome, skyRadiance } from '../../core/sky';
import { newHit } from '../../core/trace';
import type { Vec3 } from '../../core/units';
import type { Print } from './benchPrint';

/** Hours half way between the sun samples of the demo's course. */
const HOURS = [6.9, 8.4, 9.9, 13.6, 15.6, 17.1];

/** Light mixed from the samples beside an hour over what it is where the hour's own sun was traced, by the same paths: what is left is what the blend misses. */
export function benchHours(print: Print, scene: Scene, rig: Rig): void {
  const { surfaces } = scene;
  const { tiles } = planTiles(surfaces, planBake(rig).paths);
  // A fixed number of paths: what suns there are would else decide where further ones go.
  const fixed = { paths: 96, most: 1 };
  const between = { ...planBake(rig), ...fixed };
  const exact = {
    ...planBake({
      ...rig,
      cues: [...rig.cues, ...HOURS.map((hour, i) => ({ ...rig.cues[1]!, id: `h${i}`, name: `Hour ${i}`, hour, holds: {} }))],
    }),
    ...fixed,
  };
  const few = tiles.filter((_, i) => i % 3 === 1);
  const paths = (p: BakePlan) => {
    // Straight light of the whole level: what is asked for instead, sun by sun in turn, is noise of another kind in each.
    const direct = tiles.map((tile) => directTile(scene, p, tile));
    const light = joinDirect(surfaces, p, direct);
    const known = joinLight(light, solveBounce(scene, p, light));
    return direct.filter((d) => few.some((t) => t.map === d.tile.map && t.top === d.tile.top)).map((d) => gatherTile(scene, p, known, d));
  };
  const [a, b] = [paths(between), paths(exact)];
  /** Sky and bounced light of each texel, green. */
  const mixed = (all: TileStems[], p: BakePlan, lighting: Lighting, withSky: boolean) => {
    const { colors } = mixGains({ ...lighting, circuits: [] }, p, { live: true });
    const [first, end] = withSky ? [0, layerCount(p)] : [FIRST_SUN_LAYER, aureoleLayer(p, 0)];
    return all.flatMap(({ at, light }) => {
      const sums = Array.from(at, () => 0);
      for (let layer = first; layer < end; layer++) {
        const rgb = readColumn(light, layer);
        for (let i = 0; i < sums.length; i++) sums[i]! += colors[layer * 3 + 1]! * rgb[i * 3 + 1]!;
      }
      return sums;
    });
  };
  for (const hour of HOURS) {
    const lighting = resolveHour(rig, hour);
    const off = (withSky: boolean) => {
      const [x, y] = [mixed(a, between, lighting, withSky), mixed(b, exact, lighting, withSky)];
      const square = (v: number[]) => v.reduce((sum, n) => sum + n * n, 0);
      const mean = y.reduce((sum, n) => sum + n, 0) / y.length;
      return {
        rms: Math.sqrt(square(x.map((v, i) => v - y[i]!)) / square(y)),
        worst: x.reduce((most, v, i) => Math.max(most, Math.abs(v - y[i]!) / Math.max(y[i]!, mean / 10)), 0),
      };
    };
    const [both, bounce] = [off(true), off(false)];
    print('relit: between sun samples over traced there', {
      hour,
      rms: both.rms,
      worst: both.worst,
      bounceRms: bounce.rms,
      bounceWorst: bounce.worst,
    });
  }
}

/** The sky as its basis holds it over what it is, along the same rays from points all over a level. */
export function benchDomes(print: Print, scene: Scene, rig: Rig): void {
  const [point, normal, face] = [new Float64Array(3), new Float64Array(3), new Float64Array(3)];
  const hit = newHit();
  const overcast = { cover: 1, thickness: 30, heightM: 1500, scaleM: 900, driftMps: 0, bearingDeg: 0, seed: 4 };
  const broken = { ...overcast, cover: 0.5, thickness: 12 };
  const skies: [string, Lighting][] = [
    ...HOURS.map((hour): [string, Lighting] => [`hour ${hour}`, resolveHour(rig, hour)]),
    ['overcast', resolveCue(rig, { ...rig.cues[1]!, holds: { clouds: overcast } })],
    ['broken clouds', resolveCue(rig, { ...rig.cues[1]!, hour: 16, holds: { clouds: broken } })],
    ['dusk', resolveHour(rig, 18.6)],
  ];
  const aureoles = aureolesOf(planBake(rig).suns);
  const looks = skies.map(([name, { sky }]) => ({
    name,
    radiance: skyRadiance(sky),
    dome: skyDome(sky, aureoles),
    off: 0,
    all: 0,
    worst: 0,
  }));
  const triangles = scene.surfaces.indices.length / 3;
  for (let n = 0; n < 600; n++) {
    scene.stand(Math.floor(((n * 0.618034) % 1) * triangles), 0.3, 0.3, false, point, normal, face);
    const away = startOffset(point[0]!, point[1]!, point[2]!);
    const seen = looks.map(() => [0, 0]);
    for (let k = 0; k < 256; k++) {
      const up = 1 - (2 * (k + 0.5)) / 256;
      const phi = k * 2.399963 + n;
      const d: Vec3 = [Math.sqrt(1 - up * up) * Math.cos(phi), up, Math.sqrt(1 - up * up) * Math.sin(phi)];
      const cosine = normal[0]! * d[0] + normal[1]! * d[1] + normal[2]! * d[2];
      if (cosine <= 0) continue;
      const [x, y, z] = [0, 1, 2].map((c) => point[c]! + face[c]! * away) as Vec3;
      if (scene.tracer.closest(x, y, z, ...d, 0, Infinity, hit)) continue;
      looks.forEach(({ radiance, dome }, i) => {
        seen[i]![0]! += cosine * radiance(d)[1];
        seen[i]![1]! += cosine * evaluateDome(dome, d, aureoles)[1];
      });
    }
    looks.forEach((look, i) => {
      look.off += (seen[i]![1]! - seen[i]![0]!) ** 2;
      look.all += seen[i]![0]! ** 2;
      if (seen[i]![0]! > 0) look.worst = Math.max(look.worst, Math.abs(seen[i]![1]! / seen[i]![0]! - 1));
    });
  }
  for (const { name, off, all, worst } of looks) print(`relit: sky by its basis, ${name}`, { rms: Math.sqrt(off / all), worst });
}
