import type { Locator, Page } from 'playwright-core';
import { openBrowser } from './openBrowser';

/** Steps of a drag, and what lies between them, ms. */
const DRAG = { steps: 40, everyMs: 25, stepPx: 3 };

/** Drags from the middle of an element and answers how long the pictures took to stand after what they answer, ms. */
async function drag(page: Page, from: Locator): Promise<Record<string, number>> {
  await from.scrollIntoViewIfNeeded();
  const box = (await from.boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.evaluate(() => performance.clearMeasures());
  await page.mouse.move(x, y);
  await page.mouse.down();
  for (let i = 1; i <= DRAG.steps; i++) {
    await page.mouse.move(x + i * DRAG.stepPx, y);
    await page.waitForTimeout(DRAG.everyMs);
  }
  await page.mouse.up();
  await page.waitForTimeout(1500);
  const took = await page.evaluate(() => performance.getEntriesByName('moving picture', 'measure').map((m) => m.duration));
  const sorted = took.slice(1).sort((a, b) => a - b);
  return { pictures: took.length, first: took[0] ?? NaN, median: sorted[sorted.length >> 1] ?? NaN, worst: sorted.at(-1) ?? NaN };
}

/** What the steps of a picture take at 1280 x 800 in a browser, cue by cue, of the first project at an address; milliseconds, and as a ratio to the plain frame: the level without fog and grade. */
export async function benchPicture(address: string, print: (what: string, values: Record<string, number>) => void): Promise<void> {
  const browser = await openBrowser();
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(address);
    await page.locator('a[href*="/projects/"]').last().click();
    const settled = () => page.waitForSelector('[data-testid="picture"][data-settled="true"]', { timeout: 240_000 });
    await settled();
    const cues = await page.locator('nav[aria-label="Cues"] button').count();
    for (let i = 1; i <= cues; i++) {
      // A dragged row keeps the keys.
      await page.keyboard.press('Escape');
      await page.keyboard.press(String(i));
      await page.waitForTimeout(3000);
      await settled();
      const costs = page.locator('[data-testid="picture-costs"]');
      if ((await costs.count()) === 0) continue;
      const read = async (step: string) => Number(await costs.getAttribute(`data-${step}`));
      const [frame, plain, fog, water, fall, bloom, grade] = await Promise.all([
        read('frame'),
        read('scene'),
        read('fog'),
        read('water'),
        read('fall'),
        read('bloom'),
        read('grade'),
      ]);
      print(`picture, cue ${i}`, {
        frame,
        plain,
        fog,
        water,
        fall,
        bloom,
        grade,
        fogRatio: fog / plain,
        waterRatio: water / plain,
        fallRatio: fall / plain,
        bloomRatio: bloom / plain,
        gradeRatio: grade / plain,
      });
      print(`view dragged, cue ${i}`, await drag(page, page.locator('[data-testid="picture"] canvas')));
      for (const row of ['Elevation', 'EV100', 'Visibility']) {
        const label = page.locator('aside label').getByText(row, { exact: true }).first();
        if ((await label.count()) > 0) print(`${row} dragged, cue ${i}`, await drag(page, label));
      }
    }
  } finally {
    await browser.close();
  }
}
