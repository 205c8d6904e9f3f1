// How soon the page has answered what a hand does, in a level of 800 objects with 200 lamps and 40 circuits.
import type { Page } from 'playwright-core';
import { fixedExposure, timedCue, type Rig } from '../../core/rig';
import { lampWith } from '../../tests/lib/lamps';
import { postsLevel } from '../../tests/lib/postsLevel';
import { openBrowser } from './openBrowser';
import type { Print } from './benchPrint';

const [OBJECTS, LAMPS, CIRCUITS] = [800, 200, 40];

const filled = (rig: Rig): Rig => ({
  ...rig,
  circuits: Array.from({ length: CIRCUITS }, (_, i) => ({
    id: `c-${i}`,
    name: `Circuit ${i}`,
    rule: { by: 'darkness', belowLux: 50 },
    bounce: 1,
    flicker: null,
  })),
  lamps: Array.from({ length: LAMPS }, (_, i) =>
    lampWith({ id: `l-${i}`, name: `Lamp ${i}`, at: [(i % 40) * 3 - 60, 3, Math.floor(i / 40) * 4 - 8], circuitId: `c-${i % CIRCUITS}` }),
  ),
});

interface Answer {
  name: string;
  startTime: number;
  processingStart: number;
  processingEnd: number;
}

/** Keeps what the browser tells of events whose handling took long. */
async function watch(page: Page): Promise<void> {
  await page.evaluate(() => {
    const kept: Answer[] = [];
    Object.assign(window, { kept });
    new PerformanceObserver((list) => {
      for (const e of list.getEntries() as PerformanceEventTiming[])
        kept.push({ name: e.name, startTime: e.startTime, processingStart: e.processingStart, processingEnd: e.processingEnd });
    }).observe({ type: 'event', durationThreshold: 16 } as PerformanceObserverInit);
  });
}

/** A page on a project of its own, and the way to measure what a hand does there. */
interface Session {
  page: Page;
  settled(): Promise<void>;
  step(what: string, act: () => Promise<unknown>): Promise<void>;
}

/** Brings a level in as a project of its own, gives it a rig in so many revisions, and opens it. */
async function withProject(
  address: string,
  level: Uint8Array,
  rigs: (rig: Rig) => Rig[],
  print: Print,
  work: (session: Session) => Promise<void>,
) {
  const browser = await openBrowser();
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    const settled = async () => {
      await page.waitForTimeout(600);
      await page.waitForSelector('[data-testid="picture"][data-settled="true"]', { timeout: 240_000 });
    };
    await page.goto(address);
    await page.setInputFiles('input[type=file]', { name: 'Hands.glb', mimeType: 'model/gltf-binary', buffer: Buffer.from(level) });
    await page.waitForURL(/\/projects\//, { timeout: 240_000 });
    await settled();
    const project = `${address}/api/projects/${page.url().split('/').pop()}`;
    const { rig, revision } = (await (await fetch(project)).json()) as { rig: Rig; revision: number };
    for (const [i, next] of rigs(rig).entries()) {
      const answer = await fetch(`${project}/rig`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', origin: address },
        body: JSON.stringify({ base: revision + i, rig: next, note: `Measuring hands ${i + 1}` }),
      });
      if (!answer.ok) throw new Error(`The rig was not taken: ${await answer.text()}`);
    }
    await page.reload();
    await settled();
    await page.keyboard.press('Shift+H');
    await settled();
    await watch(page);
    const step = async (what: string, act: () => Promise<unknown>) => {
      await page.evaluate(() => void ((window as unknown as { kept: Answer[] }).kept.length = 0));
      await act();
      await settled();
      const kept = await page.evaluate(() => (window as unknown as { kept: Answer[] }).kept);
      const hands = kept.filter((e) => /key|pointer|click|mouse/.test(e.name));
      const most = (of: (e: Answer) => number) => Math.max(0, ...hands.map(of));
      print(what, {
        ms: most((e) => e.processingEnd - e.processingStart),
        answeredMs: most((e) => e.processingEnd - e.startTime),
      });
    };
    await work({ page, settled, step });
  } finally {
    await browser.close();
  }
}

const [CUES, REVISIONS] = [40, 200];

/** A rig of many cues that each hold a good deal, and revisions of it that differ in one value. */
function manyCues(rig: Rig): Rig[] {
  const cues = Array.from({ length: CUES }, (_, i) => ({
    ...timedCue(`m-${i}`, `Cue ${i}`, (i * 24) / CUES, 12),
    holds: {
      exposure: fixedExposure(12),
      sun: { illuminanceLux: 40_000 + i },
      fog: { visibilityM: 500 + i, fallOffM: 20 + i },
      shadeEv: i / CUES,
    },
  }));
  return Array.from({ length: REVISIONS }, (_, i) => ({ ...rig, cues, fog: { ...rig.fog, startM: i } }));
}

/** The same of {@link benchHands} for a rig of 40 cues, with 200 revisions. */
export async function benchCues(address: string, print: Print): Promise<void> {
  await withProject(address, await postsLevel({ posts: 4, objects: 20 }), manyCues, print, async ({ page, step }) => {
    await step('another of 40 cues', () => page.keyboard.press('7'));
    await step('the next cue', () => page.keyboard.press('.'));
    await step('an hour between 40 cues', () => page.mouse.click(800, 100));
    await step('open the table of 40 cues', () => page.keyboard.press('e'));
    await step('another cell', () => page.keyboard.press('Tab'));
    await step('close the table', () => page.keyboard.press('e'));
    await step('open the history of 200 revisions', () => page.keyboard.press('y'));
    await step('open a revision', () => page.getByRole('button', { name: 'Revision 100: Measuring hands 99' }).click());
    await step('look at it', () => page.getByRole('button', { name: 'Look at it' }).click());
    await step('go back to it', () => page.locator('section[aria-label="History"]').getByRole('button', { name: 'Go back to it' }).click());
    await step('undo', () => page.keyboard.press('Control+z'));
  });
}

/**
 * The longest handling of an event in each way of working, ms: `ms` is what the page itself took for it, `answeredMs` from the event on, with what
 * kept the page from it.
 *
 * @param address of a Basil that runs; the level is brought in as a project of its own
 */
export async function benchHands(address: string, print: Print): Promise<void> {
  await withProject(
    address,
    await postsLevel({ posts: 40, objects: OBJECTS }),
    (rig) => [filled(rig)],
    print,
    async ({ page, step }) => {
      const box = (await page.locator('[data-testid="picture"] canvas').boundingBox())!;
      const drag = async (from: [number, number], to: [number, number], hold?: string) => {
        if (hold) await page.keyboard.down(hold);
        await page.mouse.move(box.x + from[0], box.y + from[1]);
        await page.mouse.down();
        await page.mouse.move(box.x + to[0], box.y + to[1], { steps: 6 });
        await page.mouse.up();
        if (hold) await page.keyboard.up(hold);
      };
      const all: [[number, number], [number, number]] = [
        [10, 10],
        [790, 600],
      ];
      const density = page.locator('aside input[aria-label^="Their density"]');
      await step('open Bake', () => page.keyboard.press('g'));
      await step('choose 800 objects by a rectangle', () => drag(...all, 'Shift'));
      await step('all like it', () => page.keyboard.press('m'));
      await step('choose 800 objects by a rectangle again', () => drag(...all, 'Shift'));
      await step('role of 800 objects', () => page.getByRole('switch', { name: 'Chosen objects cast live shadows' }).click());
      await step('density of 800 objects', async () => {
        await density.fill('2');
        await density.press('Enter');
      });
      await page.locator('body').click({ position: { x: 380, y: 20 } });
      await step('undo', () => page.keyboard.press('Control+z'));
      await step('another cue', () => page.keyboard.press('2'));
      await step('open Lamps', () => page.keyboard.press('l'));
      await step('choose 200 lamps by a rectangle', () => drag(...all, 'Shift'));
      await step('200 lamps to a circuit', () => page.keyboard.press('Shift+3'));
      await step('duplicate 200 lamps', () => page.keyboard.press('Control+d'));
      await step('undo of that', () => page.keyboard.press('Control+z'));
      await step('plan', () => page.keyboard.press('t'));
      await step('mute a circuit', () =>
        page
          .getByRole('button', { name: /^Mute Circuit 1 / })
          .first()
          .click(),
      );
      await step('open Day', () => page.keyboard.press('f'));
      await step('an hour between cues', () => page.mouse.click(800, 100));
      await step('drag the hour', () => drag([660, -44], [760, -44]));
    },
  );
}
