import { FIRST_SUN_LAYER, SKY_BOUNCE_LAYER, SKY_BOUNCE_LAYERS, SKY_LAYERS, aureoleLayer, mixGains, planBake } from '../../../core/bake';
import { STEMS, defaultRig, resolveCue } from '../../../core/rig';
import { dataGains } from '../renderer/dataViews';
import { ALL, heard, isHeard } from './listening';

const rig = defaultRig();
const noon = resolveCue(rig, rig.cues[0]!);
const plan = planBake(rig);

describe('what is listened to', () => {
  it('is everything, until a stem is muted or heard alone', () => {
    expect(heard(noon, ALL)).toBe(noon);
    for (const stem of STEMS) {
      expect(isHeard({ solo: [stem], muted: [] }, stem)).toBe(true);
      expect(isHeard({ solo: [stem], muted: [stem] }, stem)).toBe(false);
      expect(STEMS.filter((other) => isHeard({ solo: [stem], muted: [] }, other))).toEqual([stem]);
      expect(STEMS.filter((other) => !isHeard({ solo: [], muted: [stem] }, other))).toEqual([stem]);
    }
  });

  it('leaves in the mix just that stem', () => {
    const sky = mixGains(heard(noon, { ...ALL, solo: ['sky', 'skyBounce'] }), plan);
    const lows = aureoleLayer(plan, 0) * 3;
    expect(sky.colors.subarray(0, SKY_LAYERS * 3).some((v) => v !== 0)).toBe(true);
    expect(sky.colors.subarray(SKY_LAYERS * 3, lows).every((v) => v === 0)).toBe(true);
    expect(sky.colors.subarray(lows).some((v) => v !== 0)).toBe(true);
    // Alone, the sky is without what of it has bounced.
    const straight = mixGains(heard(noon, { ...ALL, solo: ['sky'] }), plan);
    const bounceOf = (all: Float32Array) => all.subarray(SKY_BOUNCE_LAYER * 3, (SKY_BOUNCE_LAYER + SKY_BOUNCE_LAYERS) * 3);
    expect(straight.colors[SKY_BOUNCE_LAYER * 3 + 1]).toBeLessThan(0);
    const skyBounce = mixGains(heard(noon, { ...ALL, solo: ['skyBounce'] }), plan);
    expect(Array.from(bounceOf(skyBounce.colors))).toEqual(Array.from(bounceOf(straight.colors), (v) => -v));
    expect(skyBounce.colors.filter((v) => v !== 0)).toHaveLength(SKY_BOUNCE_LAYERS * 3);
    const bounce = mixGains(heard(noon, { ...ALL, solo: ['bounce'] }), plan);
    expect(bounce.fourths.every((v) => v === 0)).toBe(true);
    expect(bounce.colors.subarray(0, FIRST_SUN_LAYER * 3).every((v) => v === 0)).toBe(true);
    expect(bounce.colors.subarray(lows).every((v) => v === 0)).toBe(true);
    expect(bounce.colors.some((v) => v !== 0)).toBe(true);
  });

  it('adds up: all stems one by one are the whole', () => {
    const whole = mixGains(noon, plan);
    const sum = new Float64Array(whole.colors.length * 2);
    for (const stem of STEMS) {
      const { colors, fourths } = mixGains(heard(noon, { ...ALL, solo: [stem] }), plan);
      colors.forEach((v, i) => (sum[i]! += v));
      fourths.forEach((v, i) => (sum[colors.length + i]! += v));
    }
    [...whole.colors, ...whole.fourths].forEach((v, i) => expect(sum[i]).toBeCloseTo(v, 3));
  });
});

describe('data beside the light', () => {
  it('is read from the layers that hold it', () => {
    expect(Array.from(dataGains('gathered', plan).fourths.subarray(0, 6))).toEqual([1, 1, 1, 0, 0, 0]);
    expect(Array.from(dataGains('noise all', plan).fourths.subarray(0, 6))).toEqual([0, 0, 0, 2, 2, 2]);
    const { colors } = dataGains('occlusion', plan);
    // A uniform sky is the first function of either half alone.
    expect(colors[0]).toBeCloseTo(2 * Math.sqrt(Math.PI), 3);
    expect(Math.abs(colors[3]!)).toBeLessThan(1e-3);
  });
});
