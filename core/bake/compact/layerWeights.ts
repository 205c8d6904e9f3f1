import { FIRST_SUN_LAYER, LAYER, layerCount, skyLayers } from '../stems/layers';
import { aureolesOf, type BakedParts, type BakedSun } from '../plan/bakePlan';
import type { Gains } from '../stems/gains';
import { CLEAR_AIR, illuminanceBelow, skyDome, type Aureoles, type DomeRgb } from '../../sky';
import { directionFromAngles, scaleRgb, type Rgb } from '../../units';
import type { LayerBlock } from './layerBlock';

/** What a layer counts for at least: an error of this share of its own mean square root counts as one of the whole light. */
const LEAST = 0.03;
/** Texels that light is told by, about. */
const TOLD_BY = 1024;

/**
 * What an error of 1 in each layer's colours counts for: at most so much of all the light, at any of some moments, and under clear and hazy skies
 * with any of the suns.
 *
 * @param sample texels from all over the level
 */
export function layerWeights(sample: LayerBlock, baked: BakedParts, moments: readonly Gains[]): Float32Array {
  const { texels, layers } = sample;
  const count = layerCount(baked);
  const step = Math.max(1, Math.floor(texels / TOLD_BY));
  const weights = new Float32Array(count);
  const means = meansOf(sample, count, step);
  for (const { colors, fourths } of [...standardMoments(baked), ...moments]) {
    let whole = 0;
    for (let k = 0; k < count; k++)
      for (let c = 0; c < 3; c++) whole += (colors[k * 3 + c]! * means[k * LAYER + c]! + fourths[k * 3 + c]! * means[k * LAYER + 3]!) / 3;
    if (!(whole > 0)) continue;
    for (let k = 0; k < count; k++) for (let c = 0; c < 3; c++) weights[k] = Math.max(weights[k]!, Math.abs(colors[k * 3 + c]!) / whole);
  }
  for (let k = 0; k < count; k++) {
    let square = 0;
    let told = 0;
    for (let i = 0; i < texels; i += step, told++) for (let c = 0; c < 3; c++) square += layers[(k * texels + i) * LAYER + c]! ** 2 / 3;
    // A layer that is dark all over is told by any weight.
    weights[k] = square > 0 ? Math.hypot(weights[k]!, LEAST / Math.sqrt(square / told)) : 1;
  }
  return weights;
}

/** The mean of each number of each layer. */
function meansOf({ texels, layers }: LayerBlock, count: number, step: number): Float64Array {
  const means = new Float64Array(count * LAYER);
  const told = Math.ceil(texels / step);
  for (let k = 0; k < count; k++)
    for (let i = 0; i < texels; i += step)
      for (let c = 0; c < LAYER; c++) means[k * LAYER + c] = means[k * LAYER + c]! + layers[(k * texels + i) * LAYER + c]! / told;
  return means;
}

/** Elevations of the sun, degrees, that standard skies have; those of low ones about each low sun of the bake. */
const LOW_DEG = [-4, 1, 5, 12];
const HIGH_DEG = [30, 65];
/** Their haze, beside that of clear air. */
const HAZES = [1, 6];
/** A sun over the air, lux (Darula, Kittler and Gueymard 2005). */
const SUN_LUX: Rgb = [133_000, 133_000, 133_000];

interface StandardSky {
  sun: Pick<BakedSun, 'azimuthDeg' | 'elevationDeg'>;
  dome: DomeRgb;
}

/** Skies with and without haze alone, and of each sun of the bake its light under the clear one that is nearest. */
function standardMoments(baked: BakedParts): Gains[] {
  const aureoles = aureolesOf(baked.suns);
  const low = baked.suns.filter((s) => s.aureole);
  const about = low.length > 0 ? low : [{ azimuthDeg: 180 }];
  const places = [
    ...about.flatMap(({ azimuthDeg }) => LOW_DEG.map((elevationDeg) => ({ azimuthDeg, elevationDeg }))),
    ...HIGH_DEG.map((elevationDeg) => ({ azimuthDeg: 180, elevationDeg })),
  ];
  const skies = HAZES.map((haze) => places.map((sun): StandardSky => ({ sun, dome: standardDome(sun, haze, aureoles) })));
  const layers = layerCount(baked);
  const gainsOf = ({ dome }: StandardSky): Gains => {
    const colors = new Float32Array(layers * 3);
    skyLayers(baked).forEach((layer, i) => colors.set(dome.subarray(i * 3, i * 3 + 3), layer * 3));
    return { colors, fourths: new Float32Array(layers * 3) };
  };
  const ofSuns = baked.suns.map((sun, i) => {
    const gains = gainsOf(nearest(skies[0]!, sun));
    const lux = illuminanceBelow(CLEAR_AIR, 0, sun.elevationDeg, SUN_LUX);
    gains.colors.set(lux, (FIRST_SUN_LAYER + i) * 3);
    gains.fourths.set(lux, (FIRST_SUN_LAYER + i) * 3);
    return gains;
  });
  return [...skies.flat().map(gainsOf), ...ofSuns];
}

function standardDome({ azimuthDeg, elevationDeg }: StandardSky['sun'], haze: number, aureoles: Aureoles): DomeRgb {
  const air = { ...CLEAR_AIR, haze: scaleRgb(CLEAR_AIR.haze, haze), hazeAbsorption: scaleRgb(CLEAR_AIR.hazeAbsorption, haze) };
  const luminaries = [{ direction: directionFromAngles(azimuthDeg, elevationDeg), illuminance: SUN_LUX }];
  return skyDome([{ weight: 1, sky: { kind: 'air', air, heightM: 0, glow: [0, 0, 0], luminaries } }], aureoles);
}

/** The sky whose sun stands nearest in height, of those the nearest in azimuth. */
function nearest(skies: readonly StandardSky[], { azimuthDeg, elevationDeg }: StandardSky['sun']): StandardSky {
  const off = ({ sun }: StandardSky) =>
    Math.abs(sun.elevationDeg - elevationDeg) + Math.abs(((sun.azimuthDeg - azimuthDeg + 540) % 360) - 180) / 1000;
  return skies.reduce((best, sky) => (off(sky) < off(best) ? sky : best));
}
