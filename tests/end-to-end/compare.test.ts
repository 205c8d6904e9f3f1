import sharp from 'sharp';
import { differenceColor, falseColor } from '../../core/compare';
import type { Rig } from '../../core/rig';
import { whiteLuminance, type Rgb } from '../../core/units';
import { openInBrowser, settled, type InBrowser } from '../lib/application';
import { pictureOf, type Shot } from '../lib/picture';
import { oneVantage } from '../lib/vantage';
import { until } from '../lib/wait';

/** What the wall before the eye sends, cd/m2, and what the two cues are exposed at. */
const WALL = 100;
const EVS = [9, 7.5] as const;
const EYE_Z = 8;

let studio: InBrowser;
let { address, page, desk } = {} as InBrowser;
let picture: ReturnType<typeof pictureOf>;

beforeAll(async () => {
  studio = await openInBrowser('Yard to compare.glb', [
    { name: 'Ground', corner: [-20, 0, -20], along: [0, 0, 40], up: [40, 0, 0], albedo: 0.3 },
    { name: 'Wall', corner: [-6, 0, 0], along: [12, 0, 0], up: [0, 4, 0], albedo: 0, glow: WALL },
  ]);
  ({ address, page, desk } = studio);
  picture = pictureOf(page, address);
  await picture.store((rig): Rig => {
    const cues = rig.cues.slice(0, 2).map((cue, k) => ({
      ...cue,
      vantageId: 'vantage-1',
      holds: { ...cue.holds, exposure: { lowEv: EVS[k]!, highEv: EVS[k]!, biasEv: 0 } },
    }));
    return { ...rig, cues, startCueId: null, vantages: oneVantage({ eye: [0, 1.65, EYE_Z], target: [0, 1.65, 0], fovDeg: 50 }) };
  });
  await desk.press('r');
  await shows('wipe');
});
afterAll(() => studio?.close());

const section = (name: string) => page.locator(`aside section[aria-label="${name}"]`);
/** Chooses how the two are shown. */
async function shows(how: 'wipe' | 'side by side' | 'A' | 'B' | 'picture' | 'EV zones' | 'difference') {
  await section('Shown')
    .locator('.ant-segmented-item', { hasText: new RegExp(`^${how}$`) })
    .click();
  await settled(page);
}
/** Choose the light of a side. */
async function side(name: 'A' | 'B', light: string) {
  await section('Sides')
    .getByRole('combobox', { name: `Light of ${name}` })
    .click();
  await desk.takeListed(light);
  await settled(page);
}
const at = ({ width, height, rgb }: Shot, x: number, y: number) => {
  const i = (Math.round(y * height) * width + Math.round(x * width)) * 3;
  return [...rgb.subarray(i, i + 3)];
};
const near = (seen: number[], wanted: Rgb) => wanted.forEach((v, c) => expect(Math.abs(seen[c]! - v * 255)).toBeLessThanOrEqual(2));
const shownAs = (k: 0 | 1) => WALL / whiteLuminance(EVS[k]);
const cueNames = async () => (await picture.project()).rig.cues.map((c) => c.name);

describe('the Compare room', () => {
  it('shows two cues of one view, and the halves of its wipe are the two pictures by pixels', async () => {
    const [first, second] = await cueNames();
    await side('A', first!);
    await side('B', second!);
    await shows('A');
    const a = await picture.shot();
    await shows('B');
    const b = await picture.shot();
    await shows('wipe');
    const both = await picture.shot();
    expect([both.width, both.height]).toEqual([a.width, a.height]);
    const line = both.width / 2;
    let [unlikeA, unlikeB, differ] = [0, 0, 0];
    // Without the names, the line and the list of views that lie over the picture.
    for (let y = Math.round(a.height * 0.2); y < a.height * 0.8; y++)
      for (let x = 0; x < a.width; x++)
        for (let c = 0; c < 3; c++) {
          const i = (y * a.width + x) * 3 + c;
          if (a.rgb[i] !== b.rgb[i]) differ++;
          if (x < line - 12 && both.rgb[i] !== a.rgb[i]) unlikeA++;
          if (x > line + 12 && both.rgb[i] !== b.rgb[i]) unlikeB++;
        }
    expect(differ).toBeGreaterThan(1000);
    expect([unlikeA, unlikeB]).toEqual([0, 0]);

    await shows('side by side');
    const beside = await picture.shot();
    // Each half has the middle of its picture.
    for (const [from, half] of [
      [a, 0.25],
      [b, 0.75],
    ] as const)
      for (const y of [0.3, 0.5, 0.7]) near(at(beside, half, y), at(from, 0.5, y).map((v) => v / 255) as Rgb);
  });

  it('shows what is known to be so bright in the colour of its EV zone, and says what is measured', async () => {
    await shows('wipe');
    await shows('EV zones');
    const zones = await picture.shot();
    near(at(zones, 0.3, 0.45), falseColor(shownAs(0)));
    near(at(zones, 0.7, 0.45), falseColor(shownAs(1)));
    expect(falseColor(shownAs(0))).not.toEqual(falseColor(shownAs(1)));
    expect(await page.getByRole('list', { name: 'EV zones about mid-grey' }).innerText()).toMatch(/grey/);
  });

  it('shows by how many stops they differ: as exposed, or of the light alone', async () => {
    await shows('difference');
    near(at(await picture.shot(), 0.5, 0.45), differenceColor(EVS[0] - EVS[1], Math.sqrt(shownAs(0))));
    await section('Shown').getByRole('switch').click();
    await settled(page);
    near(at(await picture.shot(), 0.5, 0.45), differenceColor(0, Math.sqrt(shownAs(0))));
    await section('Shown').getByRole('switch').click();
    await settled(page);
    const words = await page.getByTestId('difference').innerText();
    expect(words).toMatch(
      /^B is [+−]?[\d.]+ EV on average; [\d.]+ % of the picture differs by ½ EV or more, from −?[\d.]+ EV to \+[\d.]+ EV\.$/,
    );
    await shows('picture');
  });

  it('keeps a light for comparing, which edits leave as it is', async () => {
    await desk.leave();
    await desk.press('1');
    await settled(page);
    await section('Kept for comparing').getByRole('button', { name: 'Keep' }).click();
    const [name] = await cueNames();
    await side('A', `${name}, kept`);
    await side('B', 'What is shown');
    await shows('A');
    const before = await picture.shot();
    await desk.leave();
    await desk.press('c');
    await desk.set('EV100', '11');
    await desk.saved();
    await desk.leave();
    await desk.press('r');
    await settled(page);
    await shows('A');
    expect((await picture.shot()).rgb.equals(before.rgb)).toBe(true);
    await shows('difference');
    near(at(await picture.shot(), 0.5, 0.45), differenceColor(-2, Math.sqrt(shownAs(0))));
    await page.keyboard.press('Control+z');
    await desk.saved();
    await settled(page);
    near(at(await picture.shot(), 0.5, 0.45), differenceColor(0, Math.sqrt(shownAs(0))));
    await shows('picture');
    await shows('wipe');
  });

  it('lays a picture from elsewhere in place of B, with scopes of its own, and refuses what is none', async () => {
    const red = await sharp({ create: { width: 90, height: 60, channels: 3, background: '#c03020' } })
      .png()
      .toBuffer();
    const file = section('A picture to match').locator('input[type=file]');
    await file.setInputFiles({ name: 'painting.png', mimeType: 'image/png', buffer: red });
    await section('A picture to match').getByText('90 × 60').waitFor();
    await settled(page);
    near(at(await picture.shot(), 0.7, 0.5), [0xc0 / 255, 0x30 / 255, 0x20 / 255]);
    await section('Measured').getByText('painting.png').waitFor();
    await section('A picture to match').getByRole('button', { name: 'Lay away' }).click();
    await settled(page);
    await file.setInputFiles({ name: 'notes.png', mimeType: 'image/png', buffer: Buffer.from('no picture') });
    await page.getByText('notes.png is no picture that can be read here.').first().waitFor();
  });

  it('lays every cue out from one view, and the parts of a light against each other', async () => {
    const names = await cueNames();
    await section('Sheets').getByRole('button', { name: 'Lay out' }).first().click();
    const sheet = page.locator('section[data-made="2"]');
    await sheet.waitFor();
    expect((await sheet.locator('figcaption b').allInnerTexts()).sort()).toEqual([...names].sort());
    const saved = page.waitForEvent('download');
    await sheet.getByRole('button', { name: 'Save as PNG' }).click();
    expect((await saved).suggestedFilename()).toBe('Yard to compare cues.png');
    await sheet.locator('figure button').nth(1).click();
    await sheet.getByRole('button', { name: 'Close' }).click();
    await settled(page);
    // It is gone to.
    await page
      .getByText(`A ${names[1]}`)
      .or(page.getByText(`B ${names[1]}`))
      .first()
      .waitFor();
    await section('Sheets').getByRole('button', { name: 'Lay out' }).nth(2).click();
    await page.locator('section[data-made="4"]').waitFor();
    expect(await page.locator('section[data-made="4"] figcaption').allInnerTexts()).toEqual([
      expect.stringMatching(/^Sun alone .*burnt [\d.]+ %, black [\d.]+ %$/),
      expect.stringMatching(/^Sun with bounce/),
      expect.stringMatching(/^Sky alone/),
      expect.stringMatching(/^Together/),
    ]);
    await page.keyboard.press('Escape');
    await page.locator('section[data-made]').waitFor({ state: 'detached' });
  });
});

it('tries a value at several steps, changes nothing by that, and takes the one that is clicked', async () => {
  await desk.leave();
  await desk.press('1');
  await desk.press('c');
  await settled(page);
  const exposure = async () => (await picture.project()).rig.cues[0]!.holds.exposure;
  const before = await exposure();
  await page.locator('aside label', { hasText: /^EV100$/ }).click({ button: 'right' });
  const ladder = page.locator('section[data-rungs]');
  await page.locator('section[data-rungs="5"]').waitFor();
  await ladder.getByLabel('First step').fill('8');
  await ladder.getByLabel('Last step').fill('10');
  await ladder.getByLabel('Steps').fill('3');
  await ladder.getByLabel('Steps').press('Enter');
  await page.locator('section[data-rungs="3"]').waitFor();
  expect(await ladder.locator('button b').allInnerTexts()).toEqual(['8 EV', '9 EV', '10 EV']);
  expect(await exposure()).toEqual(before);
  await ladder.getByRole('button', { name: 'EV100 10 EV' }).click();
  await desk.saved();
  expect(await exposure()).toMatchObject({ lowEv: 10, highEv: 10 });
  await page.keyboard.press('Control+z');
  await desk.saved();
});

it('stands where the picture is clicked, walks as far as a wall, and crouches', async () => {
  await desk.leave();
  await desk.press('h');
  await settled(page);
  const canvas = (await page.locator('[data-testid="picture"] canvas').boundingBox())!;
  await page.mouse.click(canvas.x + canvas.width / 2, canvas.y + canvas.height * 0.85, { button: 'right' });
  await page.getByRole('menuitem', { name: 'Stand here' }).click();
  await settled(page);
  const vantages = async () => (await picture.project()).rig.vantages;
  const view = async () => {
    const count = (await vantages()).length;
    await page.keyboard.press('v');
    return (await until(async () => (await vantages()).length > count && (await vantages()).at(-1), 'the view to be saved'))!;
  };
  const stood = await view();
  expect(stood.eye[1]).toBeCloseTo(1.65, 2);
  expect(stood.eye[2]).toBeGreaterThan(1);
  expect(stood.eye[2]).toBeLessThan(EYE_Z - 1);
  let last = stood.eye[2];
  await until(async () => {
    await page.keyboard.down('Shift');
    await page.keyboard.down('w');
    await page.waitForTimeout(700);
    await page.keyboard.up('w');
    await page.keyboard.up('Shift');
    const before = last;
    last = (await view()).eye[2];
    return Math.abs(last - before) < 1e-3;
  }, 'the wall to stop the walk');
  const stopped = await view();
  expect(stopped.eye[2]).toBeGreaterThan(0.2);
  expect(stopped.eye[2]).toBeLessThan(0.4);
  await desk.press('z');
  await settled(page);
  await page.keyboard.down('s');
  await page.waitForTimeout(800);
  await page.keyboard.up('s');
  await until(async () => Math.abs((await view()).eye[1] - 1) < 0.02, 'the eye to be down');
  expect(studio.faults).toEqual([]);
});
