// How far a bake is from plain paths followed to their ends, over the whole of a level.
import { bakeHere, coverTexels, fromHalves, planBake, type Scene } from '../../core/bake';
import { resolveCue, type Rig } from '../../core/rig';
import { luminance } from '../../core/units';
import { deviation, lightBySource, type Deviation } from '../../tests/truth/compareTruth';
import { traceTruth } from '../../tests/truth/pathTracer';
import type { Print } from './benchPrint';

/** Of so many texels one is compared, and the paths that are followed from it. */
const EACH = 60;
const PATHS = 512;
/** Those of the bake, more than it follows at rough: what is asked for is its bias. */
const BAKED_PATHS = 48;
/** Cues of the demo that are compared: a high sun and a low one. */
const CUES = [1, 2];

/** A scene whose surfaces are grey, each as bright as it is: the plain paths follow luminance alone. */
const inGrey = (scene: Scene): Scene => ({
  ...scene,
  albedo(triangle, u, v, out) {
    scene.albedo(triangle, u, v, out);
    out.fill(luminance([out[0]!, out[1]!, out[2]!]));
  },
});

/** Standard error of a bias, from how far single texels are off. */
const noiseOf = (off: Deviation | null) => (off ? off.rms / Math.sqrt(off.texels) : 0);

/**
 * Bias of the light of the sky and of what suns bounce, as shares of their means, in two cues: of a bake without its filter, beside paths that store
 * and guide nothing. How far single texels are off tells the noise of the bias: that by the root of their number.
 */
export async function benchBias(print: Print, coloured: Scene, rig: Rig): Promise<void> {
  const scene = inGrey(coloured);
  const { surfaces } = scene;
  const cues = CUES.map((k) => rig.cues[k]!);
  const plain: Rig = { ...rig, cues, lamps: [], placed: [], glows: [], circuits: [], bake: { ...rig.bake, quality: 'rough' } };
  const plan = { ...planBake(plain), paths: BAKED_PATHS, most: 1, without: ['filter', 'seams'] as ('filter' | 'seams')[] };
  const all = (await bakeHere(scene, plan)).map(fromHalves);
  for (const cue of cues) {
    const lighting = resolveCue(plain, cue);
    const own = { baked: { sky: [] as number[], sunBounce: [] as number[] }, truth: { sky: [] as number[], sunBounce: [] as number[] } };
    const errors = { sky: [] as number[], sunBounce: [] as number[] };
    for (const [map, stems] of all.entries()) {
      if (stems.at.length === 0) continue;
      const texels = coverTexels(surfaces, { map, top: 0, bottom: surfaces.maps[map]!.height });
      const only = Array.from(texels.at.keys()).filter((i) => i % EACH === 0);
      const truth = traceTruth(scene, texels, lighting, { paths: PATHS, bounces: plan.bounces, seed: 7, only });
      const light = lightBySource(stems, plan, lighting);
      for (const source of ['sky', 'sunBounce'] as const)
        for (const i of only) {
          own.baked[source].push(light[source][i]!);
          own.truth[source].push(truth[source].mean[i]!);
          errors[source].push(truth[source].error[i]!);
        }
    }
    const of = (source: 'sky' | 'sunBounce') => {
      const [mean, error] = [Float64Array.from(own.truth[source]), Float64Array.from(errors[source])];
      return deviation(Float64Array.from(own.baked[source]), { mean, error }, new Uint8Array(mean.length).fill(1));
    };
    const [sky, bounce] = [of('sky'), of('sunBounce')];
    print(`bake: beside long paths, ${cue.name}`, {
      texels: own.truth.sky.length,
      skyBias: sky?.bias ?? 0,
      bounceBias: bounce?.bias ?? 0,
      skyBiasNoise: noiseOf(sky),
      bounceBiasNoise: noiseOf(bounce),
    });
  }
}
