import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Browser, Page } from 'playwright-core';
import sharp from 'sharp';
import type { ProjectView } from '../../core/api';
import { decodeSrgb, luminance, whiteLuminance } from '../../core/units';
import { framedWhole, meanColor, openBrowser, openPage, removeData, settled, startApplication, type Application } from '../lib/application';
import { deskOf } from '../lib/desk';
import { quadLevel, type Quad } from '../lib/level';
import { pictureOf } from '../lib/picture';
import { until } from '../lib/wait';

let app: Application;
let browser: Browser;
let page: Page;
let desk: ReturnType<typeof deskOf>;
const faults: string[] = [];
/** What a page was not let do. */
const refused: string[] = [];

/** A small court: ground, two walls and a canopy of strong red. */
const court: Quad[] = [
  { name: 'Ground', corner: [-6, 0, -6], along: [0, 0, 12], up: [12, 0, 0], albedo: 0.5 },
  { name: 'North wall', corner: [-6, 0, -6], along: [12, 0, 0], up: [0, 5, 0], albedo: 0.7 },
  { name: 'West wall', corner: [-6, 0, 6], along: [0, 0, -12], up: [0, 5, 0], albedo: 0.7 },
  { name: 'Canopy', corner: [0, 2.5, -4], along: [0, 0, 4], up: [4, 0, 0], color: [0.6, 0.05, 0.04], doubleSided: true },
];

beforeAll(async () => {
  app = await startApplication(['--no-demo', '--port', '4300']);
  browser = await openBrowser();
  page = await openPage(browser);
  desk = deskOf(page);
  page.on('pageerror', (error) => faults.push(error.message));
  page.on('console', (message) => /Content.Security.Policy/i.test(message.text()) && refused.push(message.text()));
});
afterAll(async () => {
  await browser?.close();
  await app?.stop();
  if (app) removeData(app.data);
});

const apart = (a: number[], b: number[]) => Math.max(...a.map((v, i) => Math.abs(v - b[i]!)));

describe('the studio, in a real browser', () => {
  it('has an empty shelf that says what to drop', async () => {
    await page.goto(app.address);
    await page.getByText('Drop a level here').waitFor();
    expect(await page.locator('a[aria-label^="Open "]').count()).toBe(0);
  });

  it('refuses a damaged level with a reason, and keeps nothing of it', async () => {
    const whole = await quadLevel(court);
    await page.setInputFiles('input[type=file]', {
      name: 'broken.glb',
      mimeType: 'model/gltf-binary',
      buffer: Buffer.from(whole.subarray(0, 600)),
    });
    await page
      .locator('.ant-notification')
      .getByText(/The level is cut short: it says \d+ bytes and has 600/)
      .waitFor();
    expect(await (await fetch(`${app.address}/api/projects`)).json()).toEqual([]);
    expect(await (await fetch(`${app.address}/api/intakes`)).json()).toEqual([]);
  });

  it('brings in a level and opens it, lit live', async () => {
    const file = join(app.data, 'Little court.glb');
    writeFileSync(file, await quadLevel(court));
    await page.setInputFiles('input[type=file]', file);
    await page.waitForURL(/\/projects\//, { timeout: 360_000 });
    await settled(page);
    expect(await page.title()).toBe('Little court · Basil');
    await page.getByText('live light, not baked').waitFor();
    // Both pictures on the rail are rendered.
    await until(async () => (await page.locator('nav[aria-label="Cues"] img').count()) === 2, 'the pictures of the cues');
  });

  it('opens where a person stands, on the ground and within the court', async () => {
    const view = (await (await fetch(`${app.address}/api/projects/${page.url().split('/').pop()!}`)).json()) as ProjectView;
    expect(view.rig.vantages).toEqual([]);
    const [x, y, z] = view.level.summary.opening!.eye;
    expect(y).toBeCloseTo(1.65, 2);
    for (const v of [x, z]) expect(Math.abs(v)).toBeLessThan(6);
    await framedWhole(page);
  });

  it('goes to both cues by key, and the picture follows', async () => {
    const noon = await meanColor(page);
    await desk.press('2');
    await page.waitForTimeout(1200);
    const late = await meanColor(page);
    expect(apart(noon, late)).toBeGreaterThan(8);
    await desk.press('1');
    await page.waitForTimeout(1200);
    expect(apart(await meanColor(page), noon)).toBeLessThan(1.5);
  });

  it('drags the sun on the dome, and lets go of it by a double click', async () => {
    const dome = (await page.locator('svg[aria-label="Sky dome from above"]').boundingBox())!;
    await page.mouse.move(dome.x + dome.width / 2 + 40, dome.y + dome.height / 2);
    await page.mouse.down();
    await page.mouse.move(dome.x + dome.width / 2 + 50, dome.y + dome.height / 2);
    await page.mouse.up();
    await until(async () => (await desk.field('Azimuth').inputValue()) === '90.0', 'the sun in the east');
    await page.getByText('2 of 5 set in this cue').waitFor();
    await page.locator('aside label', { hasText: 'Azimuth' }).first().dblclick();
    await page.locator('aside label', { hasText: 'Elevation' }).first().dblclick();
    await page.getByText('follows the day', { exact: true }).waitFor();
  });

  it('lets the sun shine along the line of sight, and asks the almanac when it does', async () => {
    await page.keyboard.down('Alt');
    await page.mouse.click(520, 640);
    await page.keyboard.up('Alt');
    await page.getByText('2 of 5 set in this cue').waitFor();
    await page.getByRole('button', { name: 'find', exact: true }).click();
    await page
      .getByText(/Never over this place|take date and hour/)
      .first()
      .waitFor();
    await page.locator('body').click({ position: { x: 380, y: 20 } });
    await page.keyboard.press('Control+z');
    await page.getByText('follows the day', { exact: true }).waitFor();
  });

  it('answers nonsense of place and day with a word, and changes nothing', async () => {
    await desk.set('Latitude', '95');
    await page.getByText('Latitude goes from −90.00 to 90.00 °').waitFor();
    await desk.field('Latitude').press('Escape');
    expect(await desk.field('Latitude').inputValue()).toBe('42.00');
    await page.getByText('Drawn', { exact: true }).click();
    await desk.set('Sunrise', '20:00');
    await page.getByText('The sun must rise before it stands highest').first().waitFor();
    await page.locator('body').click({ position: { x: 380, y: 20 } });
    await page.keyboard.press('Control+z');
    await settled(page);
  });

  it('refuses nonsense in a field, and takes expressions', async () => {
    await desk.set('Elevation', 'high');
    expect(await desk.field('Elevation').getAttribute('aria-invalid')).toBe('true');
    await desk.field('Elevation').press('Escape');
    await desk.set('Elevation', '30+15/3');
    expect(await desk.field('Elevation').inputValue()).toBe('35.0');
    await desk.saved();
  });

  it('takes an edit of the sun back, and brings it forward', async () => {
    await page.locator('body').click({ position: { x: 380, y: 20 } });
    await page.keyboard.press('Control+z');
    await until(async () => (await desk.field('Elevation').inputValue()) !== '35.0', 'the sun as it stood before');
    await page.keyboard.press('Control+Shift+z');
    await until(async () => (await desk.field('Elevation').inputValue()) === '35.0', 'the edit again');
    await desk.saved();
  });

  it('bakes at low density with progress, and shows the new light', async () => {
    const { shot } = pictureOf(page, app.address);
    const before = await shot();
    await page.keyboard.press('g');
    await desk.set('Density', '3');
    await page.getByText('Rough').click();
    await page.getByRole('button', { name: 'Bake', exact: true }).last().click();
    await page.getByText(/Laying out the lightmaps|Tracing light|Filtering/).waitFor();
    await page.getByText('bake up to date').waitFor({ timeout: 360_000 });
    await page.waitForFunction(() => document.querySelector('[data-testid="picture"]')?.getAttribute('data-baked') !== '');
    // Bounced light reaches much of the court: some of the picture differs by what can be seen.
    const after = await shot();
    const differ = after.rgb.reduce((count, byte, i) => count + (Math.abs(byte - before.rgb[i]!) > 3 ? 1 : 0), 0);
    expect(differ / after.rgb.length).toBeGreaterThan(0.05);
  });

  it('reads the meter from the light, not from the screen', async () => {
    await page.keyboard.press('f');
    await page.mouse.move(500, 560);
    const lux = async () => {
      const text = await page.locator('footer[aria-label="Instruments"] span').first().innerText();
      return Number(text.replace(/[^\d.]/g, ''));
    };
    const at = await until(async () => (await lux()) || null, 'a reading');
    await desk.set('EV100', '9');
    await page.mouse.move(501, 560);
    await page.mouse.move(500, 560);
    await settled(page);
    expect(await lux()).toBeCloseTo(at, -2);
    await page.keyboard.press('Control+z');
  });

  it('shows by the graphics card what the core mixes: the meter and the picture agree', async () => {
    await page.locator('body').click({ position: { x: 380, y: 20 } });
    await desk.press('1');
    const ev = Number((await desk.field('EV100').inputValue()).replace('−', '-').replace(/\s*⅓/, '.3333').replace(/\s*⅔/, '.6667'));
    const canvas = (await page.locator('[data-testid="picture"] canvas').boundingBox())!;
    let compared = 0;
    for (const [x, y] of [
      [520, 610],
      [430, 560],
      [640, 590],
      [560, 660],
      [380, 640],
    ] as const) {
      await page.mouse.move(x, y);
      await settled(page);
      const text = await page.locator('footer[aria-label="Instruments"] span').nth(1).innerText();
      const read = Number(text.replace(/[^\d.e−-]/g, '').replace('−', '-'));
      const png = await page.screenshot({ clip: { x: x - 2, y: y - 2, width: 4, height: 4 } });
      const shown = (await sharp(png).stats()).channels.slice(0, 3).map((c) => decodeSrgb(c.mean / 255)) as [number, number, number];
      // Below the bend of the tone curve, and on the level, not on its edges or in the sky.
      const level = (await page.locator('footer[aria-label="Instruments"] span').first().innerText()).includes('–');
      if (level || Math.max(...shown) > 0.7 || y > canvas.y + canvas.height) continue;
      compared++;
      expect((luminance(shown) * whiteLuminance(ev)) / read).toBeGreaterThan(0.92);
      expect((luminance(shown) * whiteLuminance(ev)) / read).toBeLessThan(1.08);
    }
    expect(compared).toBeGreaterThan(1);
  });

  it('says what is stale when the sun has moved, and stays lit by a live shadow', async () => {
    await desk.set('Azimuth', '150');
    await page.getByText(/out of date: Noon: its light moved by/).waitFor();
    await settled(page);
    await page.locator('body').click({ position: { x: 380, y: 20 } });
    await page.keyboard.press('Control+z');
    await page.getByText('bake up to date').waitFor();
    await desk.saved();
  });

  it('finds a command by what it does, and shows all keys', async () => {
    await page.keyboard.press('Control+k');
    await page.getByLabel('Search the commands').fill('late');
    await page.keyboard.press('Enter');
    await page.locator('aside input[aria-label="Name of the cue"]').waitFor();
    await until(async () => (await page.locator('aside input[aria-label="Name of the cue"]').inputValue()) === 'Late sun', 'the other cue');
    await page.keyboard.press('?');
    await page.getByText('Walk; the arrow keys do too').waitFor();
    await page.keyboard.press('Escape');
  });

  it('walks at eye height', async () => {
    await page.locator('[data-testid="picture"] canvas').click({ position: { x: 20, y: 20 } });
    await page.keyboard.down('w');
    await page.waitForTimeout(400);
    await page.keyboard.up('w');
    await page.getByText('on foot').waitFor();
    await page.keyboard.press('h');
  });

  it('scrubs the day by its dayline: night is dark outside and readable in the picture, and nothing is lit from below', async () => {
    const strip = (await page.locator('[data-testid="dayline"]').boundingBox())!;
    const to = async (hour: number) => {
      await page.mouse.move(strip.x + (strip.width * hour) / 24, strip.y + 70);
      await page.mouse.down();
      await page.mouse.up();
      await page.getByText('The day between cues.').waitFor();
      return meanColor(page);
    };
    const brightness = (rgb: number[]) => rgb.reduce((a, b) => a + b, 0) / 3;
    for (const hour of [3, 6, 9, 15, 18.5, 21]) {
      const shown = brightness(await to(hour));
      expect(shown).toBeGreaterThan(12);
      expect(shown).toBeLessThan(235);
    }
    // The colours of dawn are warmer low in the sky than those of noon.
    const line = await page.locator('footer[aria-label="Instruments"]').innerText();
    expect(line).not.toMatch(/sun [\d.]+° \/ −/);
    await desk.press('1');
    await settled(page);
  });

  it('runs the day and stops it, and keeps an hour as a cue', async () => {
    await page.keyboard.press('Space');
    await page.waitForTimeout(1500);
    await page.keyboard.press('Space');
    await page.getByRole('button', { name: 'Make a cue of this' }).click();
    await until(async () => (await page.locator('nav[aria-label="Cues"] button').count()) === 3, 'the new cue');
    await page.getByRole('button', { name: 'Delete', exact: true }).click();
    await until(async () => (await page.locator('nav[aria-label="Cues"] button').count()) === 2, 'the new cue to be gone');
    await desk.saved();
  });

  it('moves a pin along the dayline, as one named step', async () => {
    const pin = page.getByRole('button', { name: /^Late sun, 17:45/ });
    const box = (await pin.boundingBox())!;
    await page.mouse.move(box.x + 40, box.y + 20);
    await page.mouse.down();
    await page.mouse.move(box.x + 60, box.y + 20);
    await page.mouse.move(box.x + 93, box.y + 20);
    await page.mouse.up();
    await page.getByRole('button', { name: /^Late sun, 18:45/ }).waitFor();
    await page.keyboard.press('Control+k');
    await page.getByText('Undo: Moved Late sun to 18:45').waitFor();
    await page.keyboard.press('Escape');
    await desk.saved();
  });

  it('finds everything again after a reload', async () => {
    await page.reload();
    await settled(page);
    await page.getByRole('button', { name: /^Late sun, 18:45/ }).waitFor();
    // Its hour moved its sun, so the bake says so after the reload too.
    await page.getByText(/out of date: Late sun: its light moved by/).waitFor();
    await until(async () => (await desk.field('Elevation').inputValue()) === '35.0', 'the sun of the cue');
  });

  it('keeps an edit made without a connection, and stores it when the server is back', async () => {
    await page.context().setOffline(true);
    await desk.set('Elevation', '41');
    await page.getByText('not saved: no connection').waitFor({ timeout: 90_000 });
    await page.context().setOffline(false);
    await desk.saved();
    const id = page.url().split('/').pop();
    const view = (await (await fetch(`${app.address}/api/projects/${id}`)).json()) as {
      rig: { cues: { holds: { sun?: { elevationDeg: number } } }[] };
    };
    expect(view.rig.cues[0]!.holds.sun?.elevationDeg).toBe(41);
  });

  it('brings back after the page was closed what no server had yet', async () => {
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, deviceScaleFactor: 0.5 });
    const elevation = (on: Page) => on.locator('aside input[aria-label^="Elevation"]').first();
    const open = async () => {
      const tab = await context.newPage();
      tab.on('pageerror', (error) => faults.push(error.message));
      await tab.goto(page.url());
      await settled(tab);
      return tab;
    };
    const first = await open();
    await context.setOffline(true);
    await elevation(first).fill('29');
    await elevation(first).press('Enter');
    await first.getByText('not saved: no connection').waitFor({ timeout: 90_000 });
    await first.close();
    await context.setOffline(false);
    const second = await open();
    await until(async () => Number.parseFloat(await elevation(second).inputValue()) === 29, 'the edit of the page that was closed');
    await second.waitForSelector('[data-testid="saved"][data-saving="saved"]');
    await context.close();
  });

  it('opens and saves where the browser gives it no storage', async () => {
    const other = await openPage(browser);
    await other.addInitScript(() => {
      for (const name of ['indexedDB', 'localStorage', 'sessionStorage'])
        Object.defineProperty(window, name, {
          get() {
            throw new DOMException('denied', 'SecurityError');
          },
        });
    });
    await other.goto(page.url());
    await settled(other);
    await other.locator('aside input[aria-label^="Elevation"]').first().fill('38');
    await other.locator('aside input[aria-label^="Elevation"]').first().press('Enter');
    await other.waitForSelector('[data-testid="saved"][data-saving="saved"]');
    await until(async () => {
      const { rig } = (await (await fetch(`${app.address}/api/projects/${page.url().split('/').pop()!}`)).json()) as ProjectView;
      return rig.cues[0]!.holds.sun?.elevationDeg === 38;
    }, 'the edit of a page without storage');
    await other.close();
  });

  it('says of a desk that cannot be loaded that it is not there, and has it when the page is loaded again', async () => {
    const other = await openPage(browser);
    // Nothing is loaded before it is shown.
    await other.addInitScript(() => {
      window.requestIdleCallback = () => 0;
    });
    await other.goto(page.url());
    await settled(other);
    await other.context().setOffline(true);
    await other.keyboard.press('g');
    const fault = other
      .locator('aside')
      .getByRole('alert')
      .filter({ hasText: 'This part of the page cannot be shown: the connection is lost' });
    await fault.waitFor();
    // The picture and the other desk are there still.
    await settled(other);
    await other.keyboard.press('f');
    await other.locator('aside input[aria-label^="Elevation"]').first().waitFor();
    await other.keyboard.press('g');
    await fault.waitFor();
    await other.context().setOffline(false);
    await fault.getByRole('button', { name: 'Reload the page' }).click();
    await settled(other);
    await other.keyboard.press('g');
    await other.locator('aside[aria-label="Desk of the Bake room"] button').first().waitFor();
    expect(await fault.count()).toBe(0);
    await other.close();
  });

  it('says on the shelf what a project occupies, and takes a deleted one back', async () => {
    const project = page.url();
    await page.goto(app.address);
    // What is streamed stands in the page twice for a moment, hidden the second time.
    const tile = page.locator('li:visible').filter({ hasText: 'triangles' });
    await tile.getByText(/\d MB$/).waitFor();
    expect(await page.title()).toBe('Basil');
    await tile.hover();
    await tile.getByRole('button', { name: 'Delete', exact: true }).click();
    await page.getByRole('dialog').getByRole('button', { name: 'Delete', exact: true }).click();
    const gone = page.getByRole('list', { name: 'Deleted projects' });
    await gone.getByText('can be restored for 7 days').waitFor();
    expect(await tile.count()).toBe(0);
    await gone.getByRole('button', { name: 'Restore' }).click();
    await tile.waitFor();
    expect(await gone.count()).toBe(0);
    await page.goto(project);
    await settled(page);
  });

  it('had no error on any page, and did nothing that its policy forbids', () => {
    expect(faults).toEqual([]);
    expect(refused).toEqual([]);
  });
});
