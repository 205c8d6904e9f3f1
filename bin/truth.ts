// npm run truth: how far a bake is from a path tracer on small levels, source by source, as JSON lines.
//   npm run truth -- [--level room] [--sun 55] [--quality fair] [--paths 4096] [--every 1]
import { parseArgs } from 'node:util';
import { bakeHere, coverTexels, createScene, fromHalves, planBake, type BakePlan } from '../core/bake';
import { resolveCue, type BakeQuality } from '../core/rig';
import { allOf, borderMask, deviation, lightBySource, noiseBetween } from '../tests/truth/compareTruth';
import { TRUTH_LEVELS, comparedMask, truthSurfaces, type TruthLevel } from '../tests/truth/levels';
import { SOURCES, traceTruth } from '../tests/truth/pathTracer';
import { truthRig } from '../tests/truth/rigs';

const { values } = parseArgs({
  options: {
    level: { type: 'string' },
    sun: { type: 'string' },
    quality: { type: 'string', default: 'fair' },
    paths: { type: 'string', default: '4096' },
    every: { type: 'string', default: '1' },
  },
});
const levels = (values.level ? [values.level] : Object.keys(TRUTH_LEVELS)) as TruthLevel[];
const elevations = values.sun ? [Number(values.sun)] : [55, 10];

for (const level of levels) {
  for (const elevationDeg of elevations) {
    const rig = truthRig(level, elevationDeg);
    rig.bake.quality = values.quality as BakeQuality;
    const surfaces = await truthSurfaces(level, 4);
    const scene = createScene(surfaces);
    const plan = planBake(rig);
    const lighting = resolveCue(rig, rig.cues[0]!);
    const bake = async (seed: number) => {
      const started = performance.now();
      const seeded: BakePlan = { ...plan, seed };
      const stems = fromHalves((await bakeHere(scene, seeded))[0]!);
      return { light: lightBySource(stems, seeded, lighting), seconds: (performance.now() - started) / 1000 };
    };
    const [first, second] = [await bake(0), await bake(1)];
    const texels = coverTexels(surfaces, { map: 0, top: 0, bottom: surfaces.maps[0]!.height });
    const started = performance.now();
    const compared = comparedMask(surfaces, texels, level);
    const only = Array.from(texels.at.keys()).filter((i) => compared[i] && i % Number(values.every) === 0);
    const truth = traceTruth(scene, texels, lighting, { paths: Number(values.paths), bounces: plan.bounces, seed: 7, only });
    const border = borderMask(surfaces, texels, 0).map((b, i) => b & compared[i]!);
    const inside = border.map((b, i) => compared[i]! & (1 - b));
    const head = { level, sun: elevationDeg, quality: values.quality };
    const rounded = (of: object) => Object.fromEntries(Object.entries(of).map(([k, v]) => [k, Number((v as number).toPrecision(3))]));
    console.log(
      JSON.stringify({
        ...head,
        texels: texels.at.length,
        bakeS: Math.round(first.seconds),
        truthS: Math.round((performance.now() - started) / 1000),
      }),
    );
    for (const source of [...SOURCES, 'all'] as const) {
      const known = source === 'all' ? allOf(truth) : truth[source];
      for (const [where, mask] of [
        ['inside', inside],
        ['border', border],
      ] as const) {
        const off = deviation(first.light[source], known, mask);
        if (!off) continue;
        const noise = noiseBetween(first.light[source], second.light[source], mask);
        console.log(JSON.stringify({ ...head, source, where, ...rounded({ ...off, noise }) }));
      }
    }
  }
}
