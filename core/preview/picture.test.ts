import { createScene } from '../bake';
import { lookThrough } from '../fog';
import { type NEUTRAL_GRADE, gradedColor, vignetteGain } from '../grade';
import { readLevel, readSurfaces } from '../level';
import { defaultRig, fogLightOf, resolveCue, type Holds, type Lighting, type Vantage } from '../rig';
import { skyRadiance } from '../sky';
import { directionFromAngles, whiteLuminance, type Rgb, type Vec3 } from '../units';
import { quadLevel } from '../../tests/lib/level';
import { developPicture, exposureOf, meanRadiances, renderPicture, renderRadiances, type PictureSize } from './index';

const [WIDTH, HEIGHT] = [24, 16];
const EYE: Vec3 = [0, 6, 0];
const LOOK = directionFromAngles(200, 20);
const VANTAGE: Vantage = { eye: EYE, target: EYE.map((v, c) => v + LOOK[c]! * 5) as Vec3, fovDeg: 30 };

const scene = async () =>
  createScene(
    await readSurfaces(
      await readLevel(await quadLevel([{ name: 'Ground', corner: [-30, 0, -30], along: [0, 0, 60], up: [60, 0, 0], albedo: 0.5 }])),
    ),
  );

function lightingOf(holds: Holds): Lighting {
  const rig = defaultRig();
  Object.assign(rig.cues[0]!.holds, holds);
  return resolveCue(rig, rig.cues[0]!);
}

/** Mean of the four pixels about the middle, 0..255 each. */
const middle = (rgb: Uint8Array) =>
  [0, 1, 2].map((c) =>
    [0, 1, WIDTH, WIDTH + 1].reduce((sum, k) => sum + rgb[((HEIGHT / 2 - 1) * WIDTH + WIDTH / 2 - 1 + k) * 3 + c]! / 4, 0),
  );

it.each<[string, Holds]>([
  ['neither', {}],
  ['fog', { fog: { visibilityM: 80, fallOffM: null, color: '#d0e0ff' } }],
  ['a grade', { grade: { whiteBalance: { kelvin: 4500, tint: 3, adapt: 0 }, curve: 'filmic', contrast: { amount: 1.2, pivot: 0.18 } } }],
  ['both', { fog: { visibilityM: 50, baseM: 1, fallOffM: 5 }, grade: { curve: 'aces', vignette: { ev: 1, from: 0 } } }],
])('a small picture shows the sky through %s as core says', async (_, holds) => {
  const lighting = lightingOf(holds);
  const { fog, grade, exposure } = lighting;
  const seen = middle(renderPicture(await scene(), null, lighting, VANTAGE, WIDTH, HEIGHT));
  const sent = skyRadiance(lighting.skyOverFog)(LOOK);
  const { through, scattered } = fog
    ? lookThrough(fog, fogLightOf(lighting, EYE, 8), EYE, LOOK, Infinity)
    : { through: [1, 1, 1], scattered: [0, 0, 0] };
  const white = whiteLuminance(exposure.lowEv);
  const value = sent.map((v, c) => (v * through[c]! + scattered[c]!) / white) as Rgb;
  gradedColor(grade, exposure.lowEv)(value).forEach((v, c) => expect(Math.abs(v * 255 - seen[c]!)).toBeLessThan(3));
});

it('has darker corners and a spread of what is bright, and grain that leaves the mean', async () => {
  const level = await scene();
  const picture = (change: Partial<typeof NEUTRAL_GRADE>) =>
    renderPicture(level, null, lightingOf({ grade: change }), VANTAGE, WIDTH, HEIGHT);
  const mean = (rgb: Uint8Array) => rgb.reduce((sum, v) => sum + v, 0) / rgb.length;
  const plain = picture({ smoothing: false });
  const dark = picture({ vignette: { ev: 2, from: 0 } });
  expect(dark[0]!).toBeLessThan(plain[0]! * 0.8);
  expect(vignetteGain({ ev: 2, from: 0 }, 0.5, 0.5, 1.5)).toBe(1);
  expect(mean(picture({ bloom: { amount: 0.5, overEv: -2, size: 0.1 } }))).toBeGreaterThan(mean(plain) + 2);
  const grainy = picture({ grain: { amount: 0.1, sizePx: 1 } });
  expect(grainy).not.toEqual(plain);
  expect(Math.abs(mean(grainy) - mean(plain))).toBeLessThan(2);
});

it('looks through what is not drawn, whatever light it stops', async () => {
  const level = await scene();
  const size = level.surfaces.materialOf.length;
  const lighting = lightingOf({});
  const down: Vantage = { eye: EYE, target: [3, 0, 3], fovDeg: 30 };
  const of = (undrawn: Uint8Array | null) => renderPicture(level, null, lighting, down, WIDTH, HEIGHT, undrawn);
  expect(of(new Uint8Array(size))).toEqual(of(null));
  // With nothing drawn it is as in a level without it.
  const bare = createScene({ ...level.surfaces, traced: new Uint8Array(size) });
  const unseen = of(new Uint8Array(size).fill(1));
  expect(unseen).not.toEqual(of(null));
  expect(unseen).toEqual(renderPicture(bare, null, lighting, down, WIDTH, HEIGHT));
});

describe('a still', () => {
  const size = (scale: number, parts = 2) => ({ width: WIDTH * scale, height: HEIGHT * scale, parts });
  const down: Vantage = { eye: EYE, target: [6, 2, 3], fovDeg: 50 };
  const still = async (of: PictureSize, holds: Holds = {}) => {
    const lighting = lightingOf(holds);
    const radiances = renderRadiances({ scene: await scene(), baked: null, lighting, vantage: down }, of, 0, of.height);
    return { radiances, rgb: developPicture(radiances, of, lighting, exposureOf(radiances, lighting)), mean: meanRadiances(radiances, of) };
  };

  it('of twice the size, halved, is the picture within what resampling leaves', async () => {
    const [one, two] = [await still(size(1)), await still(size(2))];
    let [sum, most] = [0, 0];
    for (let y = 0; y < HEIGHT; y++)
      for (let x = 0; x < WIDTH; x++)
        for (let c = 0; c < 3; c++) {
          const at = (dx: number, dy: number) => two.rgb[((y * 2 + dy) * WIDTH * 2 + x * 2 + dx) * 3 + c]!;
          const halved = (at(0, 0) + at(1, 0) + at(0, 1) + at(1, 1)) / 4;
          const off = Math.abs(halved - one.rgb[(y * WIDTH + x) * 3 + c]!);
          sum += off / one.rgb.length;
          most = Math.max(most, off);
        }
    expect(sum).toBeLessThan(0.5);
    // Along the horizon alone a pixel's four rays may all have met one side of it.
    expect(most).toBeLessThan(60);
  });

  it('made in bands of rows is the same as made at once', async () => {
    const of = size(1, 3);
    const looked = { scene: await scene(), baked: null, lighting: lightingOf({}), vantage: down };
    const whole = renderRadiances(looked, of, 0, HEIGHT);
    const bands = [0, 5, 11].map((from, k) => renderRadiances(looked, of, from, [5, 11, HEIGHT][k]!));
    expect(Float32Array.from(bands.flatMap((b) => [...b]))).toEqual(whole);
  });

  it('has linear radiances whose mean does not depend on size or exposure', async () => {
    const [one, two, dark] = [
      await still(size(1)),
      await still(size(2)),
      await still(size(1), { exposure: { lowEv: 18, highEv: 18, biasEv: 0 } }),
    ];
    const mean = (rgba: Float32Array) => rgba.reduce((a, v, i) => (i % 4 === 1 ? a + v : a), 0) / (rgba.length / 4);
    expect(mean(two.mean) / mean(one.mean)).toBeCloseTo(1, 2);
    expect(dark.mean).toEqual(one.mean);
    expect(dark.rgb).not.toEqual(one.rgb);
  });
});
