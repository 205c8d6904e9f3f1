import { PerspectiveCamera, Vector3 } from 'three';
import { checkRig, defaultRig, resolveCue, waterGlow, type Lighting, type Rig } from '../../../core/rig';
import { skyRadiance } from '../../../core/sky';
import { luminance, type Rgb } from '../../../core/units';
import { FAIR_WEATHER, throughWater, waterReflectance, wetAlbedo } from '../../../core/weather';
import type { LevelModel, Pick } from '../level/levelModel';
import { readLight, type LookedAt } from './readLight';

const ALBEDO = 0.3;
/** A floor of one material at height 0 under the open sky, or under a roof. */
function yard(roofed = false, floorM: number | null = 0): LookedAt {
  const met = (origin: Vector3, direction: Vector3): Pick | null => {
    if (roofed && direction.y > 0.99) return floorHit(origin, new Vector3(0, 5, 0));
    if (floorM === null || direction.y >= 0) return null;
    const distance = (floorM - origin.y) / direction.y;
    return floorHit(origin, origin.clone().addScaledVector(direction, distance));
  };
  const floorHit = (origin: Vector3, point: Vector3): Pick => ({
    point,
    normal: new Vector3(0, 1, 0),
    map: 0,
    u: 0,
    v: 0,
    albedo: [ALBEDO, ALBEDO, ALBEDO],
    emission: [0, 0, 0],
    distance: point.distanceTo(origin),
    object: 'Floor',
    material: 'Stone',
  });
  const level = {
    cast: met,
    pick: (x: number, y: number, camera: PerspectiveCamera) =>
      met(camera.position, new Vector3(x, y, 0.5).unproject(camera).sub(camera.position).normalize()),
  } as unknown as LevelModel;
  return { level, baked: null, openness: null };
}
const camera = new PerspectiveCamera(40, 1, 0.1, 100);
camera.position.set(0, 4, 0);
camera.lookAt(0, 0, -6);
camera.updateMatrixWorld();
const look = new Vector3(0, 0, 0.5).unproject(camera).sub(camera.position).normalize();

const under = (change: (holds: Rig['cues'][number]['holds'], rig: Rig) => void): Lighting => {
  const rig = defaultRig();
  rig.fog.aerial = 0;
  change(rig.cues[0]!.holds, rig);
  return resolveCue(checkRig(rig), rig.cues[0]!);
};
const ground = { rateMmH: 0, cover: 0, wet: 0, puddles: 0, snow: 0 };
const weathered = (weather: object) => under((holds) => (holds.weather = { ...FAIR_WEATHER, ...ground, ...weather }));
const read = (lighting: Lighting, looked = yard()) => readLight(looked, camera, lighting, 0, 0);

describe('the meter on a floor', () => {
  it('reads the same light whatever lies there, and the luminance of what lies there', () => {
    const [dry, wet, white] = [weathered({}), weathered({ wet: 1 }), weathered({ snow: 1 })].map((l) => read(l));
    expect(dry!.luminance).toBeCloseTo((dry!.lux! * ALBEDO) / Math.PI, 3);
    expect(wet!.lux).toBeCloseTo(dry!.lux!, 6);
    expect(white!.luminance / dry!.luminance).toBeCloseTo(0.845 / ALBEDO, 1);
    const sky = luminance(skyRadiance(weathered({ wet: 1 }).sky)([look.x, -look.y, look.z]));
    const share = 0.35 * waterReflectance(-look.y);
    const wanted = ((wet!.lux! * wetAlbedo(ALBEDO)) / Math.PI) * (1 - share) + sky * share;
    expect(wet!.luminance / wanted).toBeCloseTo(1, 3);
  });

  it('reads a floor under a roof, or of a material that stays dry, as dry', () => {
    const wet = weathered({ wet: 1 });
    const roofed = read(wet, yard(true));
    expect(roofed.luminance).toBeCloseTo((roofed.lux! * ALBEDO) / Math.PI, 3);
    const ruled = under((holds, rig) => {
      holds.weather = { ...FAIR_WEATHER, ...ground, wet: 1 };
      rig.materials = [{ id: 'stone', pattern: 'stone', wet: 0, puddles: 0, snow: 0, dust: 0 }];
    });
    expect(read(ruled).luminance).toBeCloseTo((read(ruled).lux! * ALBEDO) / Math.PI, 3);
  });

  it('reads through water what Beer and Fresnel leave of it', () => {
    const flooded = under((holds) => (holds.water = { levelM: 1.5, clarityM: 2, color: '#20505a' }));
    const plain = read(under(() => undefined));
    const seen = read(flooded);
    const down = throughWater(2, 1.5);
    expect(seen.lux! / plain.lux!).toBeGreaterThan(down[2] - 0.2);
    expect(seen.lux!).toBeLessThan(plain.lux!);
    const bent = Math.sqrt(1 - (1 - look.y ** 2) / 1.333 ** 2);
    const up = throughWater(2, 1.5 / bent);
    const glow = waterGlow(flooded.water!, flooded);
    const mirrored = skyRadiance(flooded.sky)([look.x, -look.y, look.z]);
    const share = waterReflectance(-look.y);
    const dry = plain.seen;
    const wanted = dry.map((v, c) => (v * down[c]! * up[c]! + glow[c]! * (1 - up[c]!)) * (1 - share) + mirrored[c]! * share) as Rgb;
    seen.seen.forEach((v, c) => expect(v / wanted[c]!).toBeCloseTo(1, 3));
    // Without a ground there is no light to be read on it; the water's own is seen.
    const open = read(flooded, yard(false, null));
    expect(open.lux).toBeNull();
    expect(open.luminance).toBeGreaterThan(0);
  });
});
