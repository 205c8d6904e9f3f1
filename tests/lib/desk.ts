import type { Page } from 'playwright-core';

/** Driving a studio's desk and picture in a browser. */
export function deskOf(page: Page) {
  const field = (label: string) => page.locator(`aside input[aria-label^="${label}"]`).first();
  const group = (title: string) => page.getByRole('button', { name: new RegExp(`^${title}`) }).first();
  /** Waits until the rows of the desk have followed what was done last: a hand is slower than they are. */
  const followed = () => page.waitForFunction(() => !document.querySelector('aside [data-following="true"]'));
  /** Takes what reads so from the list that was opened, once it has come to rest: a click on a list that moves may meet what is beside. */
  const takeListed = (text: string) =>
    page
      .locator('.ant-select-dropdown:not([class*="ant-slide-up"]):not(.ant-select-dropdown-hidden) .ant-select-item-option', {
        hasText: text,
      })
      .click();
  return {
    field,
    followed,
    takeListed,
    /** Types a value into a row and takes it; what is clicked next meets rows that have followed. */
    async set(label: string, text: string) {
      await followed();
      await field(label).fill(text);
      await field(label).press('Enter');
      await followed();
    },
    /** Unfolds a group of the desk. */
    async unfold(title: string) {
      if ((await group(title).getAttribute('aria-expanded')) === 'false') await group(title).click();
    },
    /** Chooses the objects whose names match a pattern, in the Bake room. */
    async choose(pattern: string) {
      const objects = page.locator('aside section[aria-label="Objects"]');
      const names = objects.getByLabel('Pattern of names');
      if ((await names.count()) === 0) {
        await objects.getByLabel('Choose objects by').click();
        await takeListed('Name');
      }
      await names.fill(pattern);
      await names.press('Enter');
    },
    saved: () => page.waitForSelector('[data-testid="saved"][data-saving="saved"]'),
    /** Presses a key for a moment, however slow the page is: one whose way up waits for the page is a key that is held. */
    press: (key: string) => Promise.all([page.keyboard.down(key), page.keyboard.up(key)]),
    /** Takes the focus out of the fields, so that keys go to the studio. */
    leave: () => page.locator('body').click({ position: { x: 380, y: 20 } }),
    /** Stands the day at an hour by a click on the dayline. */
    async standAt(hour: number) {
      const strip = (await page.locator('[data-testid="dayline"]').boundingBox())!;
      await page.mouse.click(strip.x + (strip.width * hour) / 24, strip.y + 84);
      await page.getByText('The day between cues.').waitFor();
    },
  };
}
