import type { Locator, Page } from 'playwright-core';
import type { Cue, Holds, Rig } from '../../core/rig';
import { FAIR_WEATHER, SHIPPED_WEATHERS } from '../../core/weather';
import { openBrowser } from './openBrowser';
import type { Print } from './benchPrint';

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

/** Weathers that are measured besides the project's own cues: held by a cue that is there for the time being. */
const WEATHERS: Readonly<Record<string, Partial<Holds>>> = {
  rain: { weather: { ...FAIR_WEATHER, ...SHIPPED_WEATHERS.find((w) => w.id === 'rain')!.weather } },
  snow: { weather: { ...FAIR_WEATHER, ...SHIPPED_WEATHERS.find((w) => w.id === 'snowfall')!.weather } },
  water: { water: { levelM: 0.3, clarityM: 2 } },
};
const MEASURED = 'Measured';

/** Puts another rig in place of a project's; answers the one before. */
async function changeRig(address: string, projectId: string, change: (rig: Rig) => Rig): Promise<Rig> {
  const { revision, rig } = (await (await fetch(`${address}/api/projects/${projectId}`)).json()) as { revision: number; rig: Rig };
  const answer = await fetch(`${address}/api/projects/${projectId}/rig`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ base: revision, rig: change(rig), note: 'Measuring pictures' }),
  });
  if (!answer.ok) throw new Error(`The rig was not taken: ${await answer.text()}`);
  return rig;
}

/**
 * What the steps of a picture take at 1280 x 800 in a browser, of the last project at an address: of each cue, and of rain, snow and water
 * over its first; milliseconds, and as a ratio to the plain frame, the level without fog, weather and grade. Then, unless only that is asked for, what
 * moving pictures take while the view and some rows are dragged.
 */
export async function benchPicture(address: string, print: Print, isStill: boolean): Promise<void> {
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
      await printCosts(page, `cue ${i}`, print);
      if (isStill) continue;
      print(`view dragged, cue ${i}`, await drag(page, page.locator('[data-testid="picture"] canvas')));
      for (const row of ['Elevation', 'EV100', 'Visibility']) {
        const label = page.locator('aside label').getByText(row, { exact: true }).first();
        if ((await label.count()) > 0) print(`${row} dragged, cue ${i}`, await drag(page, label));
      }
    }
    const projectId = page.url().split('/').pop()!;
    const before = await changeRig(address, projectId, (rig) => rig);
    try {
      for (const [name, holds] of Object.entries(WEATHERS)) {
        const [first] = before.cues;
        const cue: Cue = { ...first!, id: 'measured', name: MEASURED, kind: 'free', holds: { ...first!.holds, ...holds } };
        await changeRig(address, projectId, () => ({ ...before, cues: [cue, ...before.cues] }));
        await page.reload();
        await settled();
        await page.keyboard.press('1');
        await page.waitForTimeout(3000);
        await settled();
        await printCosts(page, name, print);
      }
    } finally {
      await changeRig(address, projectId, () => before);
    }
  } finally {
    await browser.close();
  }
}

/** Prints what each step of the picture on screen takes. */
async function printCosts(page: Page, name: string, print: Print): Promise<void> {
  const costs = page.locator('[data-testid="picture-costs"]');
  if ((await costs.count()) === 0) return;
  const read = async (step: string) => Number(await costs.getAttribute(`data-${step}`));
  const plain = await read('scene');
  const steps = await Promise.all(STEPS.map(async (step) => [step, await read(step)] as const));
  print(`picture, ${name}`, {
    frame: await read('frame'),
    plain,
    ...Object.fromEntries(steps),
    ...Object.fromEntries(steps.map(([step, ms]) => [`${step}Ratio`, ms / plain])),
  });
}
const STEPS = ['fog', 'water', 'fall', 'bloom', 'grade'] as const;
