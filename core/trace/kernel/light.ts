// Sums of the stored light of a level over many places, and bounces between cells: all layers of a place at once, one vector (RGB and one
// number more) for each layer.

/** What {@link useLight} is told. */
let suns: usize = 0;
let sunCount: i32 = 0;
let sunStep: f32 = 0;
let firstSun: usize = 0;
let skies: usize = 0;
let skyCount: i32 = 0;
let skyStep: f32 = 0;
let skyLayers: usize = 0;
let circuits: usize = 0;
let circuitCount: i32 = 0;
let firstCircuit: usize = 0;
let cells: usize = 0;
let layers: i32 = 0;

/** Bytes of a vector of four floats. */
const VECTOR: usize = 16;
/** Bytes of a landing: place, cell (-1 for none), two free, and what of the light there comes back, RGB and one free. */
const LANDING: usize = 32;
/** Slots of the variance that are taken at a time. */
const AT_ONCE: i32 = 4;

/** Says where the light of a level lies: thirteen numbers of 32 bits, in the order of the variables above. */
export function useLight(config: usize): void {
  suns = load<u32>(config, 0);
  sunCount = load<i32>(config, 4);
  sunStep = load<f32>(config, 8);
  firstSun = load<u32>(config, 12);
  skies = load<u32>(config, 16);
  skyCount = load<i32>(config, 20);
  skyStep = load<f32>(config, 24);
  skyLayers = load<u32>(config, 28);
  circuits = load<u32>(config, 32);
  circuitCount = load<i32>(config, 36);
  firstCircuit = load<u32>(config, 40);
  cells = load<u32>(config, 44);
  layers = load<i32>(config, 48);
}

/** Adds a vector, times another, to the one at `to`. */
function addTo(to: usize, value: v128, share: v128): void {
  v128.store(to, f32x4.add(v128.load(to), f32x4.mul(value, share)));
}

/** Adds the light at the places where paths landed to the sums of a texel. */
export function addLandings(list: usize, count: i32, sums: usize): void {
  for (let n = 0; n < count; n++, list += LANDING) {
    const place = <usize>load<u32>(list);
    const cell = load<i32>(list, 4);
    const share = v128.load(list, 16);
    if (cell >= 0) {
      let from = cells + <usize>cell * <usize>layers * VECTOR;
      const end = sums + <usize>layers * VECTOR;
      for (let to = sums; to < end; to += VECTOR, from += VECTOR) addTo(to, v128.load(from), share);
    }
    const ofSuns = f32x4.mul(share, f32x4.splat(sunStep));
    let sun = suns + place * <usize>sunCount * 2;
    let to = sums + firstSun;
    for (let s = 0; s < sunCount; s++, sun += 2, to += VECTOR) {
      const steps = <u32>load<u16>(sun);
      if (steps != 0) addTo(to, f32x4.splat(<f32>steps), ofSuns);
    }
    const ofSkies = f32x4.mul(share, f32x4.splat(skyStep));
    let sky = skies + place * <usize>skyCount * 2;
    let layer = skyLayers;
    for (let k = 0; k < skyCount; k++, sky += 2, layer += 8) {
      const steps = <i32>load<i16>(sky);
      if (steps == 0) continue;
      const value = f32x4.splat(<f32>steps);
      addTo(sums + <usize>load<u32>(layer), value, ofSkies);
      const second = load<i32>(layer, 4);
      if (second >= 0) addTo(sums + <usize>second, value, ofSkies);
    }
    let circuit = circuits + place * <usize>circuitCount * VECTOR;
    to = sums + firstCircuit;
    for (let c = 0; c < circuitCount; c++, circuit += VECTOR, to += 2 * VECTOR) addTo(to, v128.load(circuit), share);
  }
}

/** The vectors of a slot's one or two layers, by their places in the sums; one more layer, which is nought, where there is but one. */
function layersOf(sums: usize, slot: usize): v128 {
  return f32x4.mul(
    f32x4.add(v128.load(sums + <usize>load<u32>(slot)), v128.load(sums + <usize>load<u32>(slot, 4))),
    f32x4(0.2126, 0.7152, 0.0722, 0),
  );
}

/**
 * Ends a run of paths: what the sums gained in each slot since the last run, and its square, is added up.
 *
 * @param slots the places of two layers in the sums for each, and `scales` a float for each
 * @param count a multiple of {@link AT_ONCE}
 * @param before luminance of each slot when the last run ended; then of this one
 */
export function endRun(sums: usize, slots: usize, scales: usize, count: i32, before: usize, brought: usize, squares: usize): void {
  for (let n = 0; n < count; n += AT_ONCE, slots += 32, scales += 16, before += 16, brought += 16, squares += 16) {
    const a = layersOf(sums, slots);
    const b = layersOf(sums, slots + 8);
    const c = layersOf(sums, slots + 16);
    const d = layersOf(sums, slots + 24);
    const ab = v128.shuffle<f32>(a, b, 0, 4, 1, 5);
    const cd = v128.shuffle<f32>(c, d, 0, 4, 1, 5);
    const red = v128.shuffle<f32>(ab, cd, 0, 1, 4, 5);
    const green = v128.shuffle<f32>(ab, cd, 2, 3, 6, 7);
    const blue = v128.shuffle<f32>(v128.shuffle<f32>(a, b, 2, 6, 2, 6), v128.shuffle<f32>(c, d, 2, 6, 2, 6), 0, 1, 4, 5);
    const now = f32x4.mul(f32x4.add(f32x4.add(red, green), blue), v128.load(scales));
    const own = f32x4.sub(now, v128.load(before));
    v128.store(before, now);
    v128.store(brought, f32x4.add(v128.load(brought), own));
    v128.store(squares, f32x4.add(v128.load(squares), f32x4.mul(own, own)));
  }
}

/** Ends a round of runs: adds the variance of what they brought together, as their own differences tell it, and forgets them. */
export function endRound(runs: f32, count: i32, brought: usize, squares: usize, variance: usize): void {
  const none = f32x4.splat(0);
  const over = f32x4.splat(1 / runs);
  const scale = f32x4.splat(runs / (runs - 1));
  for (let n = 0; n < count; n += AT_ONCE, brought += 16, squares += 16, variance += 16) {
    const sum = v128.load(brought);
    const own = f32x4.pmax(none, f32x4.sub(v128.load(squares), f32x4.mul(f32x4.mul(sum, sum), over)));
    if (runs > 1) v128.store(variance, f32x4.add(v128.load(variance), f32x4.mul(own, scale)));
    v128.store(brought, none);
    v128.store(squares, none);
  }
}

/**
 * One more bounce of some layers of all cells: next = own + the sum over links of share x known.
 *
 * @param count of cells
 * @param start where the links of each cell begin, and after the last the end
 * @param target the cell at the other end of each link, and `share` a vector for each
 * @param own vectors of each cell, `stride` bytes from one to the next
 * @param wide layers that are bounced: vectors of each cell in `known` and `next`
 * @param added for each layer the sum of what changed, and after them the sums of what there is: vectors
 */
export function bounceCells(
  count: i32,
  start: usize,
  target: usize,
  share: usize,
  own: usize,
  stride: i32,
  wide: i32,
  known: usize,
  next: usize,
  added: usize,
): void {
  const bytes = <usize>wide * VECTOR;
  const whole = added + bytes;
  memory.fill(added, 0, 2 * bytes);
  for (let cell = 0; cell < count; cell++, own += <usize>stride, next += bytes) {
    memory.copy(next, own, bytes);
    const end = load<u32>(start + ((<usize>cell) << 2), 4);
    for (let link = load<u32>(start + ((<usize>cell) << 2)); link < end; link++) {
      const part = v128.load(share + <usize>link * VECTOR);
      let from = known + <usize>load<u32>(target + ((<usize>link) << 2)) * bytes;
      for (let to = next; to < next + bytes; to += VECTOR, from += VECTOR) addTo(to, v128.load(from), part);
    }
    const before = known + <usize>cell * bytes;
    for (let k: usize = 0; k < bytes; k += VECTOR) {
      const now = v128.load(next + k);
      v128.store(added + k, f32x4.add(v128.load(added + k), f32x4.abs(f32x4.sub(now, v128.load(before + k)))));
      v128.store(whole + k, f32x4.add(v128.load(whole + k), f32x4.abs(now)));
    }
  }
}
