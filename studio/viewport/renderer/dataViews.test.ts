import { FIRST_SUN_LAYER, layerCount, mixTexels, planBake, type MapStems } from '../../../core/bake';
import { defaultRig } from '../../../core/rig';
import { projectDome } from '../../../core/sky';
import { dataGains } from './dataViews';

const plan = planBake(defaultRig());
const layers = layerCount(plan);
const at = Uint32Array.from([0, 1, 2]);
const stems = (change: (layers: Float32Array) => void): MapStems => {
  const numbers = new Float32Array(at.length * 4 * layers);
  change(numbers);
  return { width: 3, height: 1, at, layers: numbers };
};
const place = (layer: number, texel: number, channel: number) => (layer * at.length + texel) * 4 + channel;
const greens = (mixed: Float32Array) => Array.from(at, (_, i) => mixed[i * 4 + 1]);

describe('what a view of the data mixes', () => {
  it('is the light of an even sky of 1 for the open sky: the sum of its basis, and of nothing else', () => {
    const even = projectDome(() => [1, 1, 1]);
    const some = stems((numbers) => {
      for (let layer = 0; layer < layers; layer++) numbers[place(layer, 1, 1)] = layer < FIRST_SUN_LAYER - 1 ? even[layer * 3 + 1]! : 7;
    });
    const own = even.reduce((sum, v, i) => (i % 3 === 1 ? sum + v * v : sum), 0);
    const [a, b, c] = greens(mixTexels(some, dataGains('occlusion', plan)));
    expect([a, c]).toEqual([0, 0]);
    expect(b! / own).toBeCloseTo(1, 5);
  });

  it('is the flag of gathered texels, and the noise with a half of it as 1', () => {
    const some = stems((numbers) => {
      numbers[place(0, 0, 3)] = 1;
      numbers[place(1, 2, 3)] = 0.25;
      numbers[place(2, 0, 3)] = 0.1;
      numbers[place(3, 1, 3)] = 0.25;
      numbers[place(4, 2, 3)] = 0.05;
    });
    expect(greens(mixTexels(some, dataGains('gathered', plan)))).toEqual([1, 0, 0]);
    expect(greens(mixTexels(some, dataGains('noise all', plan)))).toEqual([0, 0, 0.5]);
    const views = ['noise sky', 'noise suns', 'noise lamps'] as const;
    views.forEach((view, k) => expect(greens(mixTexels(some, dataGains(view, plan)))[k]).toBeCloseTo([0.2, 0.5, 0.1][k]!, 6));
  });
});
