import { directionFromAngles, luminance, type Rgb } from '../units';
import { horizontalIlluminance, projectSky, skyHarmonics, skyRadiance, throughVeil, totalThroughVeil, type Sky, type Veil } from './index';

const GREY = (v: number): Rgb => [v, v, v];
const EVEN: Sky = [{ weight: 1, sky: { kind: 'bands', zenith: GREY(1000), horizon: GREY(1000), ground: GREY(300), softness: 1 } }];
const BLACK = { zenith: GREY(0), horizon: GREY(0), ground: GREY(0) };
const NO_SKY: Sky = [{ weight: 1, sky: { kind: 'bands', ...BLACK } }];
const veil = (depth: number, elevationDeg = 40, lux = 80_000): Veil => ({
  depth,
  forward: 0.8,
  albedo: GREY(1),
  lights: [{ direction: directionFromAngles(130, elevationDeg), illuminance: GREY(lux) }],
});
/** Light on level ground by a fine sum over the upper half. */
function levelLux(sky: Sky): number {
  const radiance = skyRadiance(sky);
  const [rings, around] = [200, 400];
  let sum = 0;
  for (let i = 0; i < rings; i++) {
    const y = Math.sqrt((i + 0.5) / rings);
    for (let k = 0; k < around; k++) {
      const azimuth = (k / around) * 2 * Math.PI;
      sum += luminance(radiance([Math.sin(azimuth) * Math.sqrt(1 - y * y), y, -Math.cos(azimuth) * Math.sqrt(1 - y * y)]));
    }
  }
  return (sum * Math.PI) / (rings * around);
}
const under = (behind: Sky, layer: Veil): Sky => [{ weight: 1, sky: { kind: 'veiled', behind, veil: layer } }];

describe('a layer of fog over the level', () => {
  it.each([0.02, 0.3, 1, 4, 12, 60])('of depth %d gives back from sun and sky no more than it took, and what it should', (depth) => {
    const layer = veil(depth);
    const rise = layer.lights[0]!.direction[1];
    const came = 80_000 * rise;
    const scattered = levelLux(under(NO_SKY, layer));
    const straight = came * throughVeil(layer, rise);
    expect(scattered + straight).toBeLessThanOrEqual(came * 1.002);
    expect((scattered + straight) / (came * totalThroughVeil(layer, rise))).toBeCloseTo(1, 2);
    const sky = levelLux(under(EVEN, { ...layer, lights: [] }));
    expect(sky).toBeLessThanOrEqual(1000 * Math.PI * 1.002);
    expect(sky).toBeGreaterThan((0.9 * 1000 * Math.PI) / (1 + 0.2 * depth));
  });

  it.each([3, 20, 60, 90])('lets through as much straight light as in all, at most, from a sun at %d degrees', (elevationDeg) => {
    for (let depth = 0.001; depth < 200; depth *= 1.5) {
      const rise = Math.sin((elevationDeg * Math.PI) / 180);
      const all = totalThroughVeil(veil(depth), rise);
      expect(all).toBeLessThanOrEqual(1);
      expect(all).toBeGreaterThanOrEqual(throughVeil(veil(depth), rise));
    }
  });

  it('that is next to nothing leaves the sky as it was', () => {
    const seen = skyRadiance(under(EVEN, veil(1e-7)))([0.6, 0.8, 0]);
    expect(seen[0]).toBeCloseTo(1000, 1);
    expect(skyRadiance(under(EVEN, veil(1e-7)))([0.6, -0.8, 0])[0]).toBeCloseTo(300, 3);
  });

  it('is as dark as its light, and darker where it swallows', () => {
    expect(luminance(horizontalIlluminance(projectSky(skyRadiance(under(NO_SKY, veil(5, 40, 0))))))).toBe(0);
    const sooty = levelLux(under(NO_SKY, { ...veil(5), albedo: GREY(0.5) }));
    expect(sooty / levelLux(under(NO_SKY, veil(5)))).toBeCloseTo(0.5, 6);
  });

  it.each([0, 0.5, 4])('of depth %d takes of painted ambient light as it does of light from all over the sky', (depth) => {
    const layer = { ...veil(depth), lights: [] };
    const face = GREY(3000);
    const painted: Sky = [{ weight: 1, sky: { kind: 'bands', ...BLACK, facing: { up: face, side: face, down: face } } }];
    const lux = luminance(horizontalIlluminance(skyHarmonics(under(painted, layer))));
    expect(lux / ((3000 * Math.PI) / (1 + 0.75 * 0.2 * depth))).toBeCloseTo(1, 3);
  });
});
