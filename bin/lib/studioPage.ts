import type { Page } from 'playwright-core';
import { settled } from '../../tests/lib/application';
import { deskOf } from '../../tests/lib/desk';

/** Longest that a picture is waited for, s: the first one comes with all its cues', drawn by software. */
const PATIENCE_S = 600;

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
  const isSettled = () => settled(page, PATIENCE_S);
  return {
    page,
    desk,
    settled: isSettled,
    async key(keys) {
      if (/^[0-9]$/.test(keys)) await desk.press(keys);
      else await page.keyboard.press(keys);
      // A go fades over its seconds.
      await page.waitForTimeout(1500);
      await isSettled();
    },
    async section(title) {
      await desk.unfold(title);
      await page.locator(`aside section[aria-label="${title}"]`).evaluate((e) => e.scrollIntoView({ block: 'start' }));
      await page.waitForTimeout(300);
    },
  };
}
