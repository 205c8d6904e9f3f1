import { GROUND_M, TOP_M, densitiesAt, type Air } from './air';
import { exponentialIntegrals } from './exponentialIntegrals';
import { CHANNELS, type Transmittance } from './transmittance';

/** Layers of air, thinner near the ground: heights go with the square. */
const LAYERS = 36;
/** Sun heights, closer together near the horizon. */
const SUNS = 49;

/**
 * Light that the air has scattered more than once, for a sun of 1 lux: the mean radiance around any height, and
 * the diffuse light on the ground.
 */
export interface Diffuse {
  /** Where a height lies among the layers: 0 up to {@link LAYERS} - 1. */
  layer(heightM: number): number;
  /** Mean radiance (RGB) on a layer for a sun at a cosine from the zenith, into `out`: light that goes once more every way. */
  look(layer: number, cosSun: number, out: Float64Array): void;
  /** Light on open, level ground, direct and diffuse, RGB lux, into `out`. */
  groundLux(cosSun: number, out: Float64Array): void;
}

const heightOf = (layer: number) => (TOP_M - GROUND_M) * (layer / LAYERS) ** 2;
const cosOf = (index: number) => {
  const t = (2 * index) / (SUNS - 1) - 1;
  return Math.sign(t) * t * t;
};
const indexOf = (cosSun: number) => ((Math.sign(cosSun) * Math.sqrt(Math.abs(cosSun)) + 1) / 2) * (SUNS - 1);

/**
 * Solves the transfer of light that is scattered evenly to all sides in a stack of layers over a reflecting ground,
 * to all orders at once: the mean radiance J in layer i obeys
 *
 *   J_i = sum_j K_ij w_j (J_j + D_j) + G_i L,   L = (albedo / pi) (direct + 2 pi sum_j F_j w_j (J_j + D_j))
 *
 * with D the mean radiance of the direct beam, w the scattered share, K and F from the exponential integrals E2 and E3
 * (Chandrasekhar 1960, section 11; Mihalas 1978, section 2-2), less what passes a round layer by. Being linear, it loses
 * nothing that is not absorbed.
 * Haze scatters forward; of its light the share `hazeForward` counts as not scattered (a delta plus even phase function).
 * The direct beam comes through the round air, so that the planet's shadow is in it.
 */
export function buildDiffuse(air: Air, transmittance: Transmittance): Diffuse {
  // [sun][layer][rgb], and the light on the ground [sun][rgb].
  const table = new Float32Array(SUNS * LAYERS * 3);
  const onGround = new Float32Array(SUNS * 3);
  const through = new Float64Array(CHANNELS);
  const middles = Array.from({ length: LAYERS }, (_, i) => (heightOf(i) + heightOf(i + 1)) / 2);
  // Light of the direct beam that is scattered next, for one sun, and the even source it makes in each layer.
  const beam = new Float64Array(LAYERS * 3);
  const source = new Float64Array(LAYERS);
  const channels = [0, 1, 2].map((c) => solveChannel(air, c));
  for (let s = 0; s < SUNS; s++) {
    const cosSun = cosOf(s);
    for (let i = 0; i < LAYERS; i++) {
      transmittance.look(GROUND_M + middles[i]!, cosSun, through);
      for (let c = 0; c < 3; c++) beam[i * 3 + c] = (channels[c]!.scattered[i]! * through[3 + c]!) / (4 * Math.PI);
    }
    transmittance.look(GROUND_M + 1, cosSun, through);
    for (let c = 0; c < 3; c++) {
      const { inverse, fall, ground, scattered, down } = channels[c]!;
      const direct = Math.max(0, cosSun) * through[3 + c]!;
      for (let j = 0; j < LAYERS; j++) {
        let sum = ground[j]! * (air.groundAlbedo[c]! / Math.PI) * direct;
        for (let k = 0; k < LAYERS; k++) sum += fall[j * LAYERS + k]! * beam[k * 3 + c]!;
        source[j] = sum;
      }
      let lux = direct;
      for (let i = 0; i < LAYERS; i++) {
        let mean = 0;
        for (let j = 0; j < LAYERS; j++) mean += inverse[i * LAYERS + j]! * source[j]!;
        table[(s * LAYERS + i) * 3 + c] = mean;
        lux += 2 * Math.PI * down[i]! * (scattered[i]! * mean + beam[i * 3 + c]!);
      }
      onGround[s * 3 + c] = lux;
    }
  }
  return {
    layer: (heightM) => Math.min(LAYERS - 1, Math.max(0, layerAt(heightM))),
    look(layer, cosSun, out) {
      const x = Math.min(SUNS - 1, Math.max(0, indexOf(cosSun)));
      const y0 = Math.min(LAYERS - 2, Math.floor(layer));
      const x0 = Math.min(SUNS - 2, Math.floor(x));
      const fx = x - x0;
      const fy = layer - y0;
      const a = (x0 * LAYERS + y0) * 3;
      const b = a + LAYERS * 3;
      for (let c = 0; c < 3; c++) {
        out[c] = (1 - fx) * ((1 - fy) * table[a + c]! + fy * table[a + 3 + c]!) + fx * ((1 - fy) * table[b + c]! + fy * table[b + 3 + c]!);
      }
    },
    groundLux(cosSun, out) {
      const x = Math.min(SUNS - 1, Math.max(0, indexOf(cosSun)));
      const x0 = Math.min(SUNS - 2, Math.floor(x));
      for (let c = 0; c < 3; c++) out[c] = onGround[x0 * 3 + c]! + (x - x0) * (onGround[x0 * 3 + 3 + c]! - onGround[x0 * 3 + c]!);
    },
  };
}

/** Where a height lies among the middles of the layers, in layers. */
function layerAt(heightM: number): number {
  const t = Math.sqrt(Math.max(0, heightM) / (TOP_M - GROUND_M)) * LAYERS;
  const layer = Math.min(LAYERS - 1, Math.floor(t));
  const middle = (heightOf(layer) + heightOf(layer + 1)) / 2;
  if (heightM >= middle) {
    const above = (heightOf(layer + 1) + heightOf(layer + 2)) / 2;
    return layer + (heightM - middle) / (above - middle);
  }
  const below = layer > 0 ? (heightOf(layer - 1) + heightOf(layer)) / 2 : 0;
  return layer - (middle - heightM) / (middle - below);
}

interface Channel {
  /** (1 - K w)^-1, row by row. */
  inverse: Float64Array;
  /** K with the ground's share in it: mean radiance in a layer per even source in another. */
  fall: Float64Array;
  /** Mean radiance in a layer per radiance of the ground. */
  ground: Float64Array;
  /** Share of the extinction that is scattering, by layer. */
  scattered: Float64Array;
  /** Light on the ground per 2 pi of even source in a layer. */
  down: Float64Array;
}

function solveChannel(air: Air, c: number): Channel {
  const depth = new Float64Array(LAYERS);
  const scattered = new Float64Array(LAYERS);
  for (let i = 0; i < LAYERS; i++) {
    let [extinction, scattering] = [0, 0];
    // Densities fall by exponentials: a few points to a layer add up well.
    for (let k = 0; k < 8; k++) {
      const h = heightOf(i) + ((k + 0.5) / 8) * (heightOf(i + 1) - heightOf(i));
      const d = densitiesAt(air, h);
      const even = air.molecules[c]! * d.molecules + air.haze[c]! * (1 - air.hazeForward) * d.haze;
      scattering += even / 8;
      extinction += (even + air.hazeAbsorption[c]! * d.haze + air.absorption[c]! * d.absorption) / 8;
    }
    depth[i] = extinction * (heightOf(i + 1) - heightOf(i));
    scattered[i] = extinction > 0 ? scattering / extinction : 0;
  }
  // Optical depth from the ground up to the lower edge of each layer.
  const edge = new Float64Array(LAYERS + 1);
  for (let i = 0; i < LAYERS; i++) edge[i + 1] = edge[i]! + depth[i]!;
  const middle = (i: number) => (edge[i]! + edge[i + 1]!) / 2;

  const radius = (i: number) => GROUND_M + (heightOf(i) + heightOf(i + 1)) / 2;
  // A layer beneath, and the ground, are smaller balls: lines of sight nearer to the level than their rims miss them.
  const rim = (below: number, i: number) => Math.sqrt(1 - (below / radius(i)) ** 2);
  /** E2 of a depth without what lies nearer to the level than a cosine. */
  const e2Within = (depth: number, cosine: number) =>
    exponentialIntegrals(depth).e2 - (cosine > 0 ? cosine * exponentialIntegrals(depth / cosine).e2 : 0);

  const fall = new Float64Array(LAYERS * LAYERS);
  const ground = new Float64Array(LAYERS);
  const down = new Float64Array(LAYERS);
  for (let j = 0; j < LAYERS; j++) down[j] = exponentialIntegrals(edge[j]!).e3 - exponentialIntegrals(edge[j + 1]!).e3;
  for (let i = 0; i < LAYERS; i++) {
    ground[i] = e2Within(middle(i), rim(GROUND_M, i)) / 2;
    for (let j = 0; j < LAYERS; j++) {
      const cosine = j < i ? rim(radius(j), i) : 0;
      const [a, b] = [Math.abs(middle(i) - edge[j]!), Math.abs(middle(i) - edge[j + 1]!)];
      const own = i === j ? 1 - exponentialIntegrals(depth[i]! / 2).e2 : Math.abs(e2Within(a, cosine) - e2Within(b, cosine)) / 2;
      fall[i * LAYERS + j] = own + ground[i]! * air.groundAlbedo[c]! * 2 * down[j]!;
    }
  }
  const system = new Float64Array(LAYERS * LAYERS);
  for (let i = 0; i < LAYERS; i++) {
    for (let j = 0; j < LAYERS; j++) system[i * LAYERS + j] = (i === j ? 1 : 0) - fall[i * LAYERS + j]! * scattered[j]!;
  }
  return { inverse: inverted(system, LAYERS), fall, ground, scattered, down };
}

/** The inverse of a matrix of rank n by Gauss-Jordan elimination with partial pivoting. */
function inverted(matrix: Float64Array, n: number): Float64Array {
  const m = matrix.slice();
  const out = new Float64Array(n * n);
  for (let i = 0; i < n; i++) out[i * n + i] = 1;
  for (let column = 0; column < n; column++) {
    let pivot = column;
    for (let r = column + 1; r < n; r++) if (Math.abs(m[r * n + column]!) > Math.abs(m[pivot * n + column]!)) pivot = r;
    for (let k = 0; k < n; k++) {
      [m[column * n + k], m[pivot * n + k]] = [m[pivot * n + k]!, m[column * n + k]!];
      [out[column * n + k], out[pivot * n + k]] = [out[pivot * n + k]!, out[column * n + k]!];
    }
    const scale = 1 / m[column * n + column]!;
    for (let k = 0; k < n; k++) {
      m[column * n + k]! *= scale;
      out[column * n + k]! *= scale;
    }
    for (let r = 0; r < n; r++) {
      const factor = m[r * n + column]!;
      if (r === column || factor === 0) continue;
      for (let k = 0; k < n; k++) {
        m[r * n + k]! -= factor * m[column * n + k]!;
        out[r * n + k]! -= factor * out[column * n + k]!;
      }
    }
  }
  return out;
}
