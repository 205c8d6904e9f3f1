import { planWith } from '../../tests/lib/bake';
import { quadSurfaces, type Quad } from '../../tests/lib/level';
import { FIRST_SUN_LAYER, createScene, directTile, fromHalves, joinDirect, previewBake, previewLight, type BakedSun } from './index';

const sun: BakedSun = { azimuthDeg: 180, elevationDeg: 90, discDeg: 0.53, cues: ['c'] };

describe('a preview of a bake', () => {
  it('has maps of an eighth of the sides, none of them smaller than 16, and the light of an open ground', async () => {
    const surfaces = await quadSurfaces([{ name: 'Ground', corner: [-16, 0, -16], along: [0, 0, 32], up: [32, 0, 0], albedo: 0 }], {
      texelsPerM: 8,
      maxMapSize: 1024,
    });
    const [map] = (await previewBake(createScene(surfaces), planWith({ suns: [sun] }))).map(fromHalves);
    expect(map!.width).toBe(Math.max(16, Math.round(surfaces.maps[0]!.width / 8)));
    const direct = Array.from(map!.at.keys(), (i) => map!.layers[(FIRST_SUN_LAYER * map!.at.length + i) * 4 + 3]!);
    for (const v of direct) expect(v).toBeCloseTo(1 / Math.PI, 3);
  });

  it('is coarser still of a large level, so that it takes seconds', async () => {
    const grounds = [0, 200, 400, 600].map((x): Quad => ({
      name: `Ground ${x}`,
      corner: [x, 0, 0],
      along: [0, 0, 120],
      up: [120, 0, 0],
      albedo: 0,
    }));
    const surfaces = await quadSurfaces(grounds, { texelsPerM: 8, maxMapSize: 1024 });
    const maps = await previewBake(createScene(surfaces), planWith({ suns: [sun] }));
    const pixels = (all: readonly { width: number; height: number }[]) => all.reduce((sum, { width, height }) => sum + width * height, 0);
    expect(pixels(surfaces.maps) / 64).toBeGreaterThan(45_000);
    expect(pixels(maps)).toBeLessThan(41_000);
    expect(pixels(maps)).toBeGreaterThan(35_000);
  });

  it('tells paths on the whole maps the straight light of their places, in about', async () => {
    const surfaces = await quadSurfaces(
      [
        { name: 'Ground', corner: [-8, 0, -8], along: [0, 0, 16], up: [16, 0, 0], albedo: 0.5 },
        { name: 'Roof', corner: [-8, 3, -8], along: [0, 0, 8], up: [16, 0, 0], albedo: 0.5, doubleSided: true },
      ],
      { texelsPerM: 8, maxMapSize: 1024 },
    );
    const scene = createScene(surfaces);
    const plan = planWith({ suns: [sun], paths: 8 });
    const fine = surfaces.maps.map(({ height }, map) => directTile(scene, plan, { map, top: 0, bottom: height }));
    const [whole, { light: coarse }] = [joinDirect(surfaces, plan, fine), await previewLight(scene, plan)];
    let [same, all] = [0, 0];
    whole.index.forEach((index, map) =>
      index.forEach((place, texel) => {
        const other = coarse.index[map]![texel]!;
        if (place === 0 || other === 0) return;
        all++;
        if (Math.abs(whole.suns[place - 1]! - coarse.suns[other - 1]!) < 0.25 * 65535) same++;
      }),
    );
    expect(all).toBeGreaterThan(10_000);
    expect(same / all).toBeGreaterThan(0.9);
  });
});
