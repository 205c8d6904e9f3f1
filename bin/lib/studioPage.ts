import type { Page } from 'playwright-core';
import { deskOf } from '../../tests/lib/desk';

/** A studio in a browser, driven as a hand would. */
export interface StudioPage {
  page: Page;
  desk: ReturnType<typeof deskOf>;
  /** Waits until the picture is up to date. */
  settled(): Promise<void>;
  /** Presses a key for a moment, and waits for the picture. */
  key(keys: string): Promise<void>;
  /** Unfolds a section of the desk and brings it to the top. */
  section(title: string): Promise<void>;
}

/** @param page that shows a project */
export function studioPage(page: Page): StudioPage {
  const desk = deskOf(page);
  const settled = async () => {
    await page.waitForTimeout(600);
    await page.waitForSelector('[data-testid="picture"][data-settled="true"]', { timeout: 600_000 });
  };
  return {
    page,
    desk,
    settled,
    async key(keys) {
      if (/^[0-9]$/.test(keys)) await desk.press(keys);
      else await page.keyboard.press(keys);
      // A go fades over its seconds.
      await page.waitForTimeout(1500);
      await settled();
    },
    async section(title) {
      await desk.unfold(title);
      await page.locator(`aside section[aria-label="${title}"]`).evaluate((e) => e.scrollIntoView({ block: 'start' }));
      await page.waitForTimeout(300);
    },
  };
}
