import { readFile } from 'node:fs/promises';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { readExr } from '../../core/image';
import { strollSeconds, type Rig } from '../../core/rig';
import { luminance } from '../../core/units';
import { openInBrowser, settled, type InBrowser } from '../lib/application';
import { pictureOf } from '../lib/picture';
import { oneVantage } from '../lib/vantage';

/** What the wall sends, cd/m2. */
const WALL = 100;

let studio: InBrowser;
let { address, page, desk } = {} as InBrowser;
let picture: ReturnType<typeof pictureOf>;

beforeAll(async () => {
  studio = await openInBrowser('Yard to walk.glb', [
    { name: 'Ground', corner: [-20, 0, -20], along: [0, 0, 40], up: [40, 0, 0], albedo: 0.3 },
    { name: 'Wall', corner: [-6, 0, 0], along: [12, 0, 0], up: [0, 4, 0], albedo: 0, glow: WALL },
  ]);
  ({ address, page, desk } = studio);
  picture = pictureOf(page, address);
  await picture.store((rig): Rig => ({
    ...rig,
    cues: rig.cues.slice(0, 2).map((cue) => ({ ...cue, vantageId: 'vantage-1' })),
    vantages: oneVantage({ eye: [0, 1.65, 8], target: [0, 1.65, 0], fovDeg: 50 }),
  }));
  await desk.press('r');
  await settled(page);
});
afterAll(() => studio?.close());

const section = (name: string) => page.locator(`aside section[aria-label="${name}"]`);
const strolls = async () => (await picture.project()).rig.strolls;
const bar = () => page.locator('section[aria-label^="Stroll: "]');
const place = () => bar().getByRole('slider', { name: 'Place on the stroll' });
async function clickPicture(x: number, y: number) {
  const box = (await page.locator('[data-testid="picture"] canvas').boundingBox())!;
  await page.mouse.click(box.x + box.width * x, box.y + box.height * y);
}
/** The picture without what lies over its head and its foot. */
async function shot(): Promise<Buffer> {
  const { width, height, rgb } = await picture.shot();
  return rgb.subarray(Math.round(height * 0.1) * width * 3, Math.round(height * 0.85) * width * 3);
}
/** The file that a click saves. */
async function saved(click: () => Promise<unknown>): Promise<{ name: string; file: Buffer }> {
  const [download] = await Promise.all([page.waitForEvent('download', { timeout: 360_000 }), click()]);
  return { name: download.suggestedFilename(), file: await readFile(await download.path()) };
}

it('is drawn by clicks, each leg walked over the floor, and none through a wall', async () => {
  await section('Strolls').getByRole('button', { name: 'Draw' }).click();
  await settled(page);
  // Three places on the ground before the wall.
  for (const [x, count] of [
    [0.35, '1 place'],
    [0.5, '2 places'],
    [0.65, '3 places'],
  ] as const) {
    await clickPicture(x, x === 0.5 ? 0.75 : 0.85);
    await section('Strolls').getByText(`${count}: click where it goes`).waitFor();
  }
  // The sky is no place to walk to.
  await clickPicture(0.5, 0.05);
  await page.getByText('There is no floor there.').first().waitFor();
  await section('Strolls').getByRole('button', { name: 'Done' }).click();
  await desk.saved();
  const [stroll] = await strolls();
  expect(stroll!.name).toBe('Stroll 1');
  for (const { eye } of stroll!.places) expect(eye[1]).toBeCloseTo(1.65, 2);
  const [first, last] = [stroll!.places[0]!, stroll!.places.at(-1)!];
  expect(first.eye[0]).toBeLessThan(-0.3);
  expect(last.eye[0]).toBeGreaterThan(0.3);
  // At the speed that is set: 3 m/s.
  const length = stroll!.places.slice(1).reduce((sum, p, i) => sum + Math.hypot(...p.eye.map((v, c) => v - stroll!.places[i]!.eye[c]!)), 0);
  expect(strollSeconds(stroll!)).toBeGreaterThan(length / 3 - 0.2);
  expect(strollSeconds(stroll!)).toBeLessThan(length / 3 + 1.5);
});

it('is walked and recorded as it is walked', async () => {
  await desk.leave();
  await desk.press('1');
  await desk.press('h');
  await settled(page);
  await section('Strolls').getByRole('button', { name: 'Record' }).click();
  await section('Strolls').getByText('Recording').waitFor();
  await page.keyboard.down('s');
  await page.waitForTimeout(1500);
  await page.keyboard.up('s');
  await section('Strolls').getByRole('button', { name: 'Stop' }).click();
  await desk.saved();
  const recorded = (await strolls())[1]!;
  expect(recorded.places.at(-1)!.eye[2]).toBeGreaterThan(recorded.places[0]!.eye[2] + 1);
  // One looked at the wall all the way.
  for (const { eye, target } of recorded.places) expect(target[2]).toBeLessThan(eye[2]);
});

it('is played with the day running, held, scrubbed over midnight, and gives the same pictures again', async () => {
  await section('Strolls').getByRole('button', { name: 'Stroll 1', exact: false }).first().click();
  await desk.set('From', '23');
  await desk.set('Hours that go by', '2');
  await desk.saved();
  await section('Strolls').getByRole('button', { name: 'Play Stroll 1' }).click();
  await bar().getByText('01:00').waitFor();
  // At its end it stands.
  await bar().getByRole('button', { name: 'Play' }).waitFor();
  await settled(page);
  const end = await shot();
  await place().press('Home');
  await bar().getByText('23:00').waitFor();
  const begin = await shot();
  expect(begin.equals(end)).toBe(false);
  await place().press('End');
  await bar().getByText('01:00').waitFor();
  expect((await shot()).equals(end)).toBe(true);
  // Whoever takes hold of the view while it is played stands there.
  await place().press('Home');
  await bar().getByRole('button', { name: 'Play' }).click();
  await clickPicture(0.5, 0.4);
  await bar().getByRole('button', { name: 'Play' }).waitFor();
  await bar().getByRole('button', { name: 'Leave' }).click();
  await bar().waitFor({ state: 'detached' });

  await page.reload();
  await settled(page);
  await desk.leave();
  await desk.press('r');
  await section('Strolls').getByRole('button', { name: 'Play Stroll 1' }).click();
  await place().press('End');
  await bar().getByText('01:00').waitFor();
  expect((await shot()).equals(end)).toBe(true);
  await place().press('Home');
  expect((await shot()).equals(begin)).toBe(true);
  await bar().getByRole('button', { name: 'Leave' }).click();
});

it('is played under one cue after another, and laid out as a contact strip', async () => {
  const names = (await picture.project()).rig.cues.map((c) => c.name);
  await section('Strolls').getByRole('button', { name: 'Stroll 1', exact: false }).first().click();
  await section('Strolls').locator('.ant-segmented-item', { hasText: 'cues in turn' }).click();
  await desk.saved();
  const { light } = (await strolls())[0]!;
  expect(light.by === 'cues' && light.cueIds.length).toBe(2);
  await section('Strolls').getByRole('button', { name: 'Contact strip' }).click();
  const sheet = page.locator('section[data-made="12"]');
  await sheet.waitFor({ timeout: 360_000 });
  const labels = await sheet.locator('figcaption b').allInnerTexts();
  expect([labels.slice(0, 6), labels.slice(6)]).toEqual(names.map((name) => Array(6).fill(name)));
  const { name, file } = await saved(() => sheet.getByRole('button', { name: 'Save as PNG' }).click());
  expect(name).toBe('Yard to walk Stroll 1.png');
  expect((await sharp(file).metadata()).format).toBe('png');
  await sheet.locator('figure button').nth(11).click();
  await sheet.getByRole('button', { name: 'Close' }).click();
  await bar().getByText(labels.at(-1)!).waitFor();
  await bar().getByRole('button', { name: 'Leave' }).click();
});

it('is saved as numbered pictures, the same each time, and a saving that is cancelled saves nothing', async () => {
  const [stroll] = await strolls();
  await desk.set('Width', '64');
  await desk.set('Of strolls', '2');
  const count = Math.round(strollSeconds(stroll!) * 2) + 1;
  await section('Strolls').getByText(`${count} pictures, 2 a second`).waitFor();
  const save = () => saved(() => section('Strolls').getByRole('button', { name: 'Save as zip' }).click());
  const { name, file } = await save();
  expect(name).toBe('Yard to walk Stroll 1.zip');
  const files = unzipSync(new Uint8Array(file));
  expect(Object.keys(files)).toHaveLength(count);
  const sizes = await Promise.all(Object.values(files).map(async (f) => (await sharp(f).metadata()) as { width: number; height: number }));
  expect(sizes.every(({ width, height }) => width === 64 && height === 36)).toBe(true);
  const again = unzipSync(new Uint8Array((await save()).file));
  for (const [own, bytes] of Object.entries(files)) expect(Buffer.from(again[own]!).equals(Buffer.from(bytes))).toBe(true);

  await desk.set('Of strolls', '60');
  await section('Strolls').getByRole('button', { name: 'Save as zip' }).click();
  await section('Strolls')
    .getByText(/^Picture \d+ of/)
    .waitFor();
  await section('Strolls').getByRole('button', { name: 'Cancel' }).click();
  await section('Strolls').getByRole('button', { name: 'Save as zip' }).waitFor();
});

it('saves the view as a still: graded, or as the light that it is', async () => {
  await desk.leave();
  await desk.press('1');
  await desk.press('h');
  await settled(page);
  await desk.set('Width', '320');
  const still = (as: string) =>
    saved(() =>
      section('Pictures')
        .getByRole('button', { name: `Save ${as}` })
        .click(),
    );
  const png = await still('PNG');
  expect(png.name).toMatch(/^Yard to walk .+\.png$/);
  expect(await sharp(png.file).metadata()).toMatchObject({ width: 320, height: 180 });
  const exr = await readExr(new Uint8Array((await still('EXR')).file));
  expect([exr.width, exr.height]).toEqual([320, 180]);
  // The middle of the picture is the wall.
  const at = (90 * 320 + 160) * 4;
  expect(luminance([exr.rgba[at]!, exr.rgba[at + 1]!, exr.rgba[at + 2]!])).toBeGreaterThan(WALL * 0.98);
  expect(luminance([exr.rgba[at]!, exr.rgba[at + 1]!, exr.rgba[at + 2]!])).toBeLessThan(WALL * 1.02);
  expect(studio.faults).toEqual([]);
});
