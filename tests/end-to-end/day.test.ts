import type { Browser, Page } from 'playwright-core';
import { sunEvents } from '../../core/almanac';
import { displayColor } from '../../core/grade';
import { resolveHour, type Rig } from '../../core/rig';
import { skyRadiance } from '../../core/sky';
import { DEG, directionFromAngles } from '../../core/units';
import { framedWhole, meanColor, openBrowser, openPage, settled, sharedAddress } from '../lib/application';
import { deskOf } from '../lib/desk';
import { quadLevel, type Quad } from '../lib/level';
import { until } from '../lib/wait';
import { oneVantage } from '../lib/vantage';

let address: string;
let browser: Browser;
let page: Page;
let desk: ReturnType<typeof deskOf>;
const faults: string[] = [];

/** A terrace over the sea: ground, a wall to the north, a post. */
const terrace: Quad[] = [
  { name: 'Ground', corner: [-10, 0, -10], along: [0, 0, 20], up: [20, 0, 0], albedo: 0.45 },
  { name: 'Wall', corner: [-10, 0, -6], along: [14, 0, 0], up: [0, 3, 0], albedo: 0.6, doubleSided: true },
  { name: 'Post', corner: [1, 0, 2], along: [0.4, 0, 0], up: [0, 2.5, 0], albedo: 0.3, doubleSided: true },
];

beforeAll(async () => {
  address = sharedAddress();
  browser = await openBrowser();
  page = await openPage(browser);
  page.on('pageerror', (error) => faults.push(error.message));
  desk = deskOf(page);
});
afterAll(async () => {
  await browser?.close();
});

const brightness = (rgb: readonly number[]) => rgb.reduce((a, b) => a + b, 0) / 3;
const projectId = () => page.url().split('/').pop()!;
const project = async () => (await (await fetch(`${address}/api/projects/${projectId()}`)).json()) as { revision: number; rig: Rig };

/** Colours of the very middle of the picture and of all of it, 0..255 each. */
async function colours(): Promise<{ middle: number[]; mean: number[] }> {
  await settled(page);
  const { default: sharp } = await import('sharp');
  const png = await page.locator('[data-testid="picture"] canvas').screenshot();
  const { width, height } = await sharp(png).metadata();
  const around = { left: Math.round(width / 2) - 4, top: Math.round(height / 2) - 4, width: 8, height: 8 };
  const meanOf = async (image: Buffer) => (await sharp(image).stats()).channels.slice(0, 3).map((c) => c.mean);
  return { middle: await meanOf(await sharp(png).extract(around).png().toBuffer()), mean: await meanOf(png) };
}
const middle = async () => (await colours()).middle;

/** Colour of the dayline's sky at an hour, 0..255 each; `height` 0 is the zenith and 1 the horizon. */
const painted = (hour: number, height: number) =>
  page.evaluate(
    ([h, up]) => {
      const canvas = document.querySelector<HTMLCanvasElement>('[data-testid="dayline"] canvas')!;
      const [x, y] = [Math.floor((h! / 24) * canvas.width), Math.round(up! * (canvas.height - 1))];
      return Array.from(canvas.getContext('2d')!.getImageData(x, y, 1, 1).data.slice(0, 3));
    },
    [hour, height],
  );

describe('five minutes from a bare level to a believable light', () => {
  it('drops a level, which opens under a summer day', async () => {
    await page.goto(address);
    await page.setInputFiles('input[type=file]', {
      name: 'Terrace.glb',
      mimeType: 'model/gltf-binary',
      buffer: Buffer.from(await quadLevel(terrace)),
    });
    await page.waitForURL(/\/projects\//, { timeout: 360_000 });
    await settled(page);
    await framedWhole(page);
  });

  it('takes a city for its place, with its clock, and a date and a north', async () => {
    await page.getByLabel('Place', { exact: true }).click();
    await page.keyboard.type('herat', { delay: 30 });
    await desk.takeListed('Afghanistan');
    await until(async () => (await desk.field('Latitude').inputValue()) === '34.33', 'the place to be taken');
    expect(await desk.field('Clock').inputValue()).toBe('4.50');
    await page.locator('aside input[type=date]').fill('2026-04-20');
    await desk.set('North', '20');
    await page.getByText(/^Sunrise 05:/).waitFor();
  });

  it('scrubs to an hour, chooses an air and moves its haze, which makes a copy of the shipped one', async () => {
    await desk.standAt(16.5);
    // For the day: between cues, what is set for the cue makes one.
    await page.locator('aside section[aria-label="Air"]').getByText('The day', { exact: true }).click();
    await page.getByRole('combobox', { name: 'Air', exact: true }).click();
    await desk.takeListed('Dry upland');
    await desk.set('Haze', '4');
    await page.getByText('of this project').waitFor();
    await page.locator('aside label', { hasText: 'Name' }).locator('input').fill('Terrace air');
    await page.keyboard.press('Enter');
    await until(async () => (await project()).rig.airs.at(-1)?.name === 'Terrace air', 'the name of the air');
  });

  it('keeps the light as a cue, with the sun where it is wanted, exposed for what it really is', async () => {
    expect((await project()).rig.cues).toHaveLength(2);
    await page.locator('aside section[aria-label="Air"]').getByText('This cue', { exact: true }).click();
    // The first edit makes the cue of this hour, as one step with it.
    await desk.set('Elevation', '24');
    await page.getByText('The cue At 16:30 was made, to hold this.').waitFor();
    await desk.saved();
    expect((await project()).rig.cues.map((c) => c.name)).toContain('At 16:30');
    await desk.leave();
    await page.keyboard.press('Control+z');
    await page.getByRole('button', { name: 'Make a cue of this' }).waitFor();
    await until(async () => (await project()).rig.cues.length === 2, 'the cue to be gone');
    await page.getByRole('button', { name: 'Make a cue of this' }).click();
    await desk.set('Elevation', '24');
    await page.getByRole('button', { name: 'neutral' }).click();
    await desk.saved();
    const { rig } = await project();
    expect(rig.cues.at(-1)!.holds).toMatchObject({ sun: { elevationDeg: 24 } });
    const open = /([\d.]+) EV/.exec(await page.getByText(/Open ground would be/).innerText())![1]!;
    expect(rig.cues.at(-1)!.holds.exposure!.lowEv).toBeCloseTo(Number(open), 1);
  });

  it('stands in a sunlit, rightly exposed picture, with no bake', async () => {
    await page.getByText('live light, not baked').waitFor();
    await page.getByText(/the sun, [\d\u2009]+ lx/).waitFor();
    const shown = brightness(await meanColor(page));
    expect(shown).toBeGreaterThan(60);
    expect(shown).toBeLessThan(200);
  });
});

describe('a day scrubbed hour by hour', () => {
  const [azimuthDeg, elevationDeg] = [100, 12];
  let rig: Rig;

  beforeAll(async () => {
    const { revision, rig: before } = await project();
    const d = directionFromAngles(azimuthDeg + before.place.northDeg, elevationDeg);
    const eye = [0, 6, 0] as const;
    rig = {
      ...before,
      vantages: oneVantage({ eye: [...eye], target: [eye[0] + d[0] * 5, eye[1] + d[1] * 5, eye[2] + d[2] * 5], fovDeg: 50 }),
    };
    const answer = await fetch(`${address}/api/projects/${projectId()}/rig`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ base: revision, rig, note: 'Looking east' }),
    });
    expect(answer.status).toBe(200);
    await page.reload();
    await settled(page);
  });

  it('draws at every hour just the sky that the light is made from, and never one lit from below', async () => {
    const direction = directionFromAngles(azimuthDeg + rig.place.northDeg, elevationDeg);
    for (let hour = 0.5; hour < 24; hour++) {
      await desk.standAt(hour);
      const at = Number(await page.getByTestId('dayline').getAttribute('aria-valuenow'));
      expect(Math.abs(at - hour)).toBeLessThan(0.05);
      const lighting = resolveHour(rig, at);
      const wanted = displayColor(skyRadiance(lighting.sky)(direction), lighting.exposure.lowEv).map((v) => v * 255);
      const { middle: shown, mean: all } = await colours();
      shown.forEach((v, c) => expect(Math.abs(v - wanted[c]!)).toBeLessThan(6));
      for (const sun of lighting.suns) expect(Math.sin(sun.elevationDeg * DEG)).toBeGreaterThan(-0.01);
      const mean = brightness(all);
      expect(mean).toBeGreaterThan(8);
      expect(mean).toBeLessThan(245);
    }
  });

  it('has a dayline of the same sky: dark by night, blue by day, warm at the horizon of dawn and dusk', async () => {
    await page.waitForSelector('[data-testid="dayline"][data-painted="true"]');
    const warmth = ([r, , b]: number[]) => Math.log(r! / Math.max(1, b!));
    const [night, noon] = [await painted(0.5, 0.5), await painted(12.2, 0.3)];
    expect(brightness(night)).toBeLessThan(30);
    expect(brightness(noon)).toBeGreaterThan(3 * brightness(night));
    expect(warmth(noon)).toBeLessThan(-0.1);
    for (const twilight of sunEvents(rig.place).civil)
      expect(warmth(await painted(twilight!, 1))).toBeGreaterThan(warmth(await painted(12.2, 1)) + 0.2);
    // The picture looks east: it is warmer there at dawn than at noon as well.
    await desk.standAt(5.3);
    const dawn = await middle();
    await desk.standAt(12);
    expect(warmth(dawn)).toBeGreaterThan(warmth(await middle()) + 0.1);
  });
});

describe('nonsense and other worlds', () => {
  it('refuses a latitude of 95 and a day of no minutes with a word, and changes nothing', async () => {
    await desk.press('1');
    const before = (await project()).rig;
    await desk.set('Latitude', '95');
    await page.getByText('Latitude goes from −90.00 to 90.00 °').waitFor();
    await desk.field('Latitude').press('Escape');
    await desk.set('Length', '0');
    await page.getByText('Length goes from 0.20 to 1\u2009440 min').waitFor();
    await desk.field('Length').press('Escape');
    expect((await project()).rig).toEqual(before);
  });

  it('has an answer to an air without gas: a black sky over lit ground', async () => {
    await desk.set('Molecules', '0');
    await desk.set('Haze', '0');
    const sky = await middle();
    expect(brightness(sky)).toBeLessThan(30);
    expect(brightness(await meanColor(page))).toBeGreaterThan(10);
    await desk.leave();
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await settled(page);
  });

  it('says of a polar night that the sun does not rise, and shows it', async () => {
    await desk.set('Latitude', '80');
    await page.locator('aside input[type=date]').fill('2026-12-21');
    await page.getByText('The sun neither rises nor sets on this date.').waitFor();
    await page
      .getByText(/the moon, |none: the sky alone/)
      .first()
      .waitFor();
    // What it exposes for is measured in the picture: that of before is of a day.
    await page.getByText(/Open ground would be [-−]/).waitFor();
    await page.getByRole('button', { name: 'neutral' }).click();
    await until(async () => brightness(await meanColor(page)) > 8, 'the night to be shown');
    await desk.leave();
    for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
    await settled(page);
  });

  it('refuses a drawn day whose sun rises after it sets', async () => {
    await page.getByText('Drawn', { exact: true }).click();
    await desk.set('Sunrise', '20:00');
    await page.getByText('The sun must rise before it stands highest').first().waitFor();
    await desk.set('Daylight', '75');
    await until(async () => (await desk.field('Sunrise').inputValue()) === '03:00', 'a longer day');
    await desk.leave();
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await page.getByText('by the almanac').waitFor();
  });

  it('takes a second sun, and says which light is the main one', async () => {
    await desk.unfold('Further suns and moons');
    await page.getByRole('button', { name: 'Add a sun' }).click();
    await page.getByText('Sun 2', { exact: true }).waitFor();
    await page.getByText(/the sun, [\d\u2009]+ lx/).waitFor();
    await desk.leave();
    await page.keyboard.press('Control+z');
  });

  it('bends the sun’s strength by a curve that is drawn, and straightens it', async () => {
    await desk.unfold('Strength by the hour');
    const curve = page.getByRole('slider', { name: 'Sun’s strength by the hour' });
    await curve.scrollIntoViewIfNeeded();
    const box = (await curve.boundingBox())!;
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width / 2 + 12, box.y + box.height * 0.75, { steps: 3 });
    await page.mouse.up();
    await desk.saved();
    const bent = (await project()).rig.day.strength;
    expect(Math.min(...bent)).toBeLessThan(0.7);
    await page.getByRole('button', { name: 'straighten' }).click();
    await desk.saved();
    expect(new Set((await project()).rig.day.strength)).toEqual(new Set([1]));
  });

  it('tells what the live shadows cost, and takes another reach', async () => {
    await desk.unfold('Live shadows');
    const maps = page.getByLabel('Maps of a live shadow').locator('> div');
    await maps.nth(2).waitFor({ timeout: 90_000 });
    expect(await maps.count()).toBe(3);
    await desk.set('Reach', '10');
    expect(await desk.field('Reach').getAttribute('aria-invalid')).toBe('true');
    await desk.set('Reach', '24');
    await page.getByText('to 24.0 m', { exact: true }).waitFor();
    await settled(page);
    // Each map reaches four times as far as the one before, or the widest as far as the level does.
    const reaches = (await maps.locator('dt').allInnerTexts()).map((text) => Number(/[\d.]+/.exec(text)![0]));
    expect(reaches[1]! / reaches[0]!).toBeCloseTo(4, 0);
    expect(reaches[2]!).toBeLessThanOrEqual(24);
    await desk.leave();
    await page.keyboard.press('Control+z');
    await until(async () => (await project()).rig.shadowReachM === 70, 'the reach to be as before');
  });

  it('lets the days go by: date and moon go on, and come back with a cue', async () => {
    await page.getByRole('button', { name: 'A day later' }).click();
    await page.getByText(/2026-04-21, moon \d+ % lit/).waitFor();
    await desk.set('Length', '6');
    await page.getByText('60×', { exact: true }).click();
    await page.getByRole('button', { name: 'Play', exact: true }).click();
    await page.getByText('Day 3', { exact: true }).waitFor({ timeout: 360_000 });
    await page.getByRole('button', { name: 'Pause', exact: true }).click();
    await desk.press('1');
    await page.getByText('Day 1', { exact: true }).waitFor();
  });

  it('had no error on the page', () => {
    expect(faults).toEqual([]);
  });
});
