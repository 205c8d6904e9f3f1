import { setRole, timedCue, type Cue, type Rig } from '../../core/rig';
import type { Vec3 } from '../../core/units';
import { FAIR_WEATHER, SHIPPED_WEATHERS, SNOW_ALBEDO, wetAlbedo, type Weather } from '../../core/weather';
import { openInBrowser, settled, type InBrowser } from '../lib/application';
import type { Quad } from '../lib/level';
import { pictureOf, type Shot } from '../lib/picture';
import { until } from '../lib/wait';
import { oneVantage } from '../lib/vantage';

let { address, page, desk, faults, close } = {} as InBrowser;
let { project, store, middle, shot } = {} as ReturnType<typeof pictureOf>;

const ALBEDO = 0.3;
/** Ground with a shelter on it, a board that must stay dry, a wall, and a closed house to the east. */
const yard: Quad[] = [
  { name: 'Ground', corner: [-30, 0, -30], along: [0, 0, 60], up: [60, 0, 0], albedo: ALBEDO },
  { name: 'Shelter', corner: [4, 3, -3], along: [6, 0, 0], up: [0, 0, 6], albedo: 0.5, doubleSided: true },
  { name: 'Inner board', corner: [-8, 0.05, -1], along: [0, 0, 4], up: [4, 0, 0], albedo: ALBEDO },
  { name: 'Wall', corner: [-12, -3, -14], along: [24, 0, 0], up: [0, 9, 0], albedo: 0.7, doubleSided: true },
  { name: 'House roof', corner: [13.7, 3, -4.3], along: [8.6, 0, 0], up: [0, 0, 8.6], albedo: 0.5, doubleSided: true },
  { name: 'House west', corner: [14, 0, -4], along: [0, 3, 0], up: [0, 0, 8], albedo: 0.5, doubleSided: true },
  { name: 'House east', corner: [22, 0, -4], along: [0, 3, 0], up: [0, 0, 8], albedo: 0.5, doubleSided: true },
  { name: 'House north', corner: [14, 0, -4], along: [8, 0, 0], up: [0, 3, 0], albedo: 0.5, doubleSided: true },
  { name: 'House south', corner: [14, 0, 4], along: [8, 0, 0], up: [0, 3, 0], albedo: 0.5, doubleSided: true },
];

const cue = (id: string, weather: Partial<Weather>, ev = 14.5): Cue => {
  const timed = timedCue(id, id, 12, ev);
  return { ...timed, kind: 'free', fadeS: 0, holds: { ...timed.holds, weather: { ...FAIR_WEATHER, ...weather } } };
};
const SNOWING: Partial<Weather> = { rateMmH: 3, temperatureC: -6, snow: 0, wet: 0, puddles: 0, cover: 1 };
const CUES = [
  cue('dry', {}),
  cue('wet', { wet: 1, puddles: 0, snow: 0 }),
  cue('white', { wet: 0, puddles: 0, snow: 1 }),
  cue('falling', { ...SNOWING, windMps: 1 }, 11),
  cue('blowing', { ...SNOWING, windMps: 8 }, 11),
];

const seenFrom =
  (eye: Vec3, target: Vec3, fovDeg = 40) =>
  (rig: Rig): Rig => ({
    ...rig,
    cues: CUES,
    vantages: oneVantage({ eye, target, fovDeg }),
    fog: { ...rig.fog, aerial: 0 },
    materials: [{ id: 'inner', pattern: 'inner*', wet: 0, puddles: 0, snow: 0, dust: 0 }],
  });
const linear = (byte: number) => (byte / 255 <= 0.04045 ? byte / 255 / 12.92 : ((byte / 255 + 0.055) / 1.055) ** 2.4);
/** How bright the middle of the picture is under one cue after the other, as shares of the first one's. */
async function brightness(...keys: number[]): Promise<number[]> {
  const seen: number[] = [];
  for (const key of keys) {
    await desk.press(String(key));
    await page.waitForTimeout(300);
    seen.push(linear((await middle())[1]!));
  }
  return seen.map((v) => v / seen[0]!);
}
/** Luminance that the meter reads in the middle of the picture, cd/m2. */
async function metered(): Promise<number> {
  const box = (await page.locator('[data-testid="picture"] canvas').boundingBox())!;
  const value = page.locator('footer[aria-label="Instruments"] span', { hasText: 'cd/m²' }).first().locator('b');
  await page.mouse.move(box.x + box.width / 2 + 40, box.y + box.height / 2);
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.waitForTimeout(300);
  return Number((await value.textContent())!.replace(/[^\d.]/g, ''));
}
const shotOf = async (key: number): Promise<Shot> => {
  await desk.press(String(key));
  await page.waitForTimeout(300);
  await settled(page);
  return shot();
};
/** Share of the pixels that differ between two pictures by more than a little. */
function differing(a: Shot, b: Shot): number {
  let count = 0;
  for (let i = 0; i < a.rgb.length; i += 3) if (Math.abs(a.rgb[i + 1]! - b.rgb[i + 1]!) > 6) count++;
  return count / (a.rgb.length / 3);
}

beforeAll(async () => {
  ({ address, page, desk, faults, close } = await openInBrowser('Yard.glb', yard));
  ({ project, store, middle, shot } = pictureOf(page, address));
});
afterAll(async () => {
  await close();
});

describe('roles of surfaces', () => {
  it('let the light through an opening, and keep the shadow of a blocker that is not drawn', async () => {
    // Under the shelter, and the shelter itself against the sky.
    const [floor, roof]: [[Vec3, Vec3], [Vec3, Vec3]] = [
      [
        [7, 1.2, 2.6],
        [7, 0, 0.4],
      ],
      [
        [7, 0.4, 0],
        [7.3, 3, 0.3],
      ],
    ];
    const seen = async ([eye, target]: [Vec3, Vec3], as: 'unseen-blocker' | 'opening' | null) => {
      await store((rig) => {
        const next = { ...seenFrom(eye, target)(rig), roles: [] };
        if (as) setRole(next, { by: 'object', name: 'Shelter' }, as);
        return next;
      });
      return linear((await middle())[1]!);
    };
    const shaded = await seen(floor, null);
    expect(Math.abs((await seen(floor, 'unseen-blocker')) / shaded - 1)).toBeLessThan(0.05);
    expect(await seen(floor, 'opening')).toBeGreaterThan(2 * shaded);
    const [drawn, unseen] = [await seen(roof, null), await seen(roof, 'unseen-blocker')];
    expect(Math.abs(unseen - drawn)).toBeGreaterThan(0.05);
    expect(faults).toEqual([]);
    await store((rig) => ({ ...rig, roles: [] }));
  });
});

describe('weather on the level', () => {
  it('wets and snows over what lies open, and leaves dry what is under a roof or must stay dry', async () => {
    const places: Record<string, Vec3> = { open: [-2, 0, 6], sheltered: [7, 0, 0], board: [-6, 0.05, 1] };
    const seen: Record<string, number[]> = {};
    for (const [name, at] of Object.entries(places)) {
      await store(seenFrom([at[0], at[1] + 2.4, at[2] + 1.4], at));
      seen[name] = await brightness(1, 2, 3);
    }
    const [, wet, white] = seen.open!;
    expect(wet! / (wetAlbedo(ALBEDO) / ALBEDO)).toBeGreaterThan(0.92);
    expect(wet! / (wetAlbedo(ALBEDO) / ALBEDO)).toBeLessThan(1.15);
    expect(white!).toBeGreaterThan(2.1);
    // The meter reads what is seen, not what would be there when dry.
    await store(seenFrom([-2, 2.4, 7.4], places.open!));
    const read: number[] = [];
    for (const key of [1, 2, 3]) {
      await desk.press(String(key));
      await settled(page);
      read.push(await metered());
    }
    expect(Math.abs(read[1]! / read[0]! / wet! - 1)).toBeLessThan(0.06);
    // The tone curve bends what is so bright: the meter's snow is told by its reflectance.
    expect(Math.abs(read[2]! / read[0]! / (SNOW_ALBEDO[1] / ALBEDO) - 1)).toBeLessThan(0.06);
    for (const name of ['sheltered', 'board']) for (const share of seen[name]!) expect(Math.abs(share - 1)).toBeLessThan(0.03);
  });

  it('lets snow fall in the open, and none in a house', async () => {
    await store(seenFrom([16, 1.6, 2.5], [20, 1.4, -2], 60));
    expect(differing(await shotOf(4), await shotOf(5))).toBe(0);
    await store(seenFrom([-10, 1.6, 12], [-6, 2.5, 0], 60));
    expect(differing(await shotOf(4), await shotOf(5))).toBeGreaterThan(0.0004);
    const cost = async () => Number(await page.locator('[data-testid="picture-costs"]').getAttribute('data-fall'));
    expect(await cost()).toBeGreaterThan(0);
    expect(faults).toEqual([]);
  });

  it('lays water on the level at just its height', async () => {
    const [eye, fovDeg] = [[0, 2, 4] as Vec3, 40];
    const away = eye[2] + 14;
    const rowOf = (heightM: number, height: number) =>
      height / 2 - ((heightM - eye[1]) / away / Math.tan((fovDeg * Math.PI) / 360)) * (height / 2);
    /** Looks for the line at which the wall darkens, and expects it at a height. */
    const waterline = async (levelM: number) => {
      const { width, height, rgb } = await shotOf(1);
      const column = Array.from({ length: height }, (_, y) => linear(rgb[(y * width + (width >> 1)) * 3 + 1]!));
      const expected = rowOf(levelM, height);
      const above = Math.round(expected) - 25;
      // The wall itself darkens slowly towards the ground: told from some rows above.
      const line = column.findIndex((v, y) => y > above && v < column[y - 5]! * 0.975);
      expect(Math.abs(line - expected)).toBeLessThanOrEqual(1.5);
      return { column, expected };
    };
    for (const levelM of [0.5, 1.1]) {
      await store((rig) => ({
        ...seenFrom(eye, [0, 2, -14], fovDeg)(rig),
        water: { ...rig.water, levelM, clarityM: 0.5, ripplesMps: 0, color: '#101820' },
      }));
      const { column, expected } = await waterline(levelM);
      expect(column[Math.round(expected) - 6]! / column[Math.round(expected) + 6]!).toBeGreaterThan(1.1);
    }
    await desk.unfold('Water');
    await page.getByRole('switch', { name: 'Drag the water in the picture' }).click();
    const box = (await page.locator('[data-testid="picture"] canvas').boundingBox())!;
    const at = (heightM: number) => box.y + rowOf(heightM, box.height);
    await page.mouse.move(box.x + box.width / 2, at(2.4));
    await page.mouse.down();
    for (const heightM of [2, 1.6, 1.4]) await page.mouse.move(box.x + box.width / 2, at(heightM));
    await page.mouse.up();
    await desk.leave();
    await desk.saved();
    const dragged = (await project()).rig.cues[0]!.holds.water!.levelM!;
    expect(Math.abs(dragged - 1.4)).toBeLessThan(0.04);
    await waterline(dragged);
  });

  it('is set on the desk, kept as a set, and held by the cue', async () => {
    await store(seenFrom([-10, 1.6, 12], [-6, 2.5, 0], 60));
    await desk.press('1');
    await desk.unfold('Weather');
    await desk.set('Precipitation', '12');
    await desk.set('Temperature', '-3');
    await page.getByRole('button', { name: 'Keep these values' }).click();
    await desk.saved();
    const { rig } = await project();
    expect(rig.cues[0]!.holds.weather).toMatchObject({ rateMmH: 12, temperatureC: -3 });
    expect(rig.weathers).toEqual([expect.objectContaining({ name: 'Weather' })]);
    expect(rig.weathers[0]!.weather.rateMmH).toBe(12);
    await page.getByRole('switch', { name: 'Show each in the present view', exact: true }).click();
    const shelf = page.getByRole('group', { name: 'Sets of weather' });
    const shown = async () => (await shelf.locator('img').evaluateAll((all) => all.map((img) => (img as HTMLImageElement).src))).sort();
    await until(async () => (await shown()).length === SHIPPED_WEATHERS.length + 1, 'a small picture of each set');
    // Each looks unlike the others: rain is not snow, nor dust fair weather.
    expect(new Set(await shown()).size).toBeGreaterThan(SHIPPED_WEATHERS.length - 2);
    await shelf.getByRole('button', { name: 'Snowfall' }).click();
    await desk.saved();
    expect((await project()).rig.cues[0]!.holds.weather).toMatchObject({ temperatureC: -3, snow: 0.7 });
    expect(faults).toEqual([]);
  });
});
