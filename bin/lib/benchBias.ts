// How far a bake is from plain paths followed to their ends, over the whole of a level.
import { bakeHere, coverTexels, fromHalves, planBake, type Scene } from '../../core/bake';
import { resolveCue, type Rig } from '../../core/rig';
import { luminance } from '../../core/units';
import { deviation, lightBySource } from '../../tests/truth/compareTruth';
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

/**
 * Bias of the light of the sky and of what suns bounce, as shares of their means, in two cues: of a bake without its filter, beside paths that store
 * and guide nothing.
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
    const compared = { sky: newCompared(), sunBounce: newCompared() };
    for (const [map, stems] of all.entries()) {
      if (stems.at.length === 0) continue;
      const texels = coverTexels(surfaces, { map, top: 0, bottom: surfaces.maps[map]!.height });
      const only = Array.from(texels.at.keys()).filter((i) => i % EACH === 0);
      const truth = traceTruth(scene, texels, lighting, { paths: PATHS, bounces: plan.bounces, seed: 7, only });
      const light = lightBySource(stems, plan, lighting);
      for (const [source, { baked, mean, error }] of Object.entries(compared) as [keyof typeof compared, Compared][]) {
        baked.push(...only.map((i) => light[source][i]!));
        mean.push(...only.map((i) => truth[source].mean[i]!));
        error.push(...only.map((i) => truth[source].error[i]!));
      }
    }
    const [sky, bounce] = [biasOf(compared.sky), biasOf(compared.sunBounce)];
    print(`bake: beside long paths, ${cue.name}`, {
      texels: compared.sky.mean.length,
      skyBias: sky.bias,
      skyBiasNoise: sky.noise,
      bounceBias: bounce.bias,
      bounceBiasNoise: bounce.noise,
    });
  }
}

/** Luminance of some texels of a source: as baked, and as it is, with its standard error. */
type Compared = Record<'baked' | 'mean' | 'error', number[]>;
const newCompared = (): Compared => ({ baked: [], mean: [], error: [] });

/** What baked light is off on average, as a share of the mean, and the standard error of that from how far single texels are off. */
function biasOf({ baked, mean, error }: Compared): { bias: number; noise: number } {
  const truth = { mean: Float64Array.from(mean), error: Float64Array.from(error) };
  const { bias, rms, texels } = deviation(Float64Array.from(baked), truth, new Uint8Array(mean.length).fill(1))!;
  return { bias, noise: rms / Math.sqrt(texels) };
}
