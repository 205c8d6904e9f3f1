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
/** Bytes of a slot of the variance: the places of one or two layers in the sums (-1 for none), and a scale. */
const SLOT: usize = 16;

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
    for (let k = 0; k < skyCount; k++, sky += 2, layer += 4) {
      const steps = <i32>load<i16>(sky);
      if (steps != 0) addTo(sums + <usize>load<u32>(layer), f32x4.splat(<f32>steps), ofSkies);
    }
    let circuit = circuits + place * <usize>circuitCount * VECTOR;
    to = sums + firstCircuit;
    for (let c = 0; c < circuitCount; c++, circuit += VECTOR, to += 2 * VECTOR) addTo(to, v128.load(circuit), share);
  }
}

function luminance(rgb: usize): f32 {
  return <f32>0.2126 * load<f32>(rgb) + <f32>0.7152 * load<f32>(rgb, 4) + <f32>0.0722 * load<f32>(rgb, 8);
}

/**
 * Ends a run of paths: what the sums gained in each slot since the last run, and its square, is added up.
 *
 * @param before luminance of each slot when the last run ended; then of this one
 */
export function endRun(sums: usize, slots: usize, count: i32, before: usize, brought: usize, squares: usize): void {
  for (let n = 0; n < count; n++, slots += SLOT, before += 4, brought += 4, squares += 4) {
    let now = luminance(sums + <usize>load<u32>(slots));
    const second = load<i32>(slots, 4);
    if (second >= 0) now += luminance(sums + <usize>second);
    now *= load<f32>(slots, 8);
    const own = now - load<f32>(before);
    store<f32>(before, now);
    store<f32>(brought, load<f32>(brought) + own);
    store<f32>(squares, load<f32>(squares) + own * own);
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
