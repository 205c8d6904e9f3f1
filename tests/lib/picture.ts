import type { Page } from 'playwright-core';
import sharp from 'sharp';
import type { Rig } from '../../core/rig';
import { settled } from './application';

/** Pixels of the picture on screen, RGB bytes. */
export interface Shot {
  width: number;
  height: number;
  rgb: Buffer;
}

/** The picture of a studio's page, and the rig that it is drawn from. */
export function pictureOf(page: Page, address: string) {
  const projectId = () => page.url().split('/').pop()!;
  const project = async () => (await (await fetch(`${address}/api/projects/${projectId()}`)).json()) as { revision: number; rig: Rig };
  const shot = async (): Promise<Shot> => {
    await settled(page);
    const png = await page.locator('[data-testid="picture"] canvas').screenshot();
    const { data, info } = await sharp(png).removeAlpha().raw().toBuffer({ resolveWithObject: true });
    return { width: info.width, height: info.height, rgb: data };
  };
  return {
    project,
    shot,
    /** Puts another rig in place, as another tab would, and looks at it from its first cue's vantage once it is shown. */
    async store(change: (rig: Rig) => Rig): Promise<Rig> {
      const { revision, rig } = await project();
      const next = change(rig);
      const answer = await fetch(`${address}/api/projects/${projectId()}/rig`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ base: revision, rig: next, note: 'Looking' }),
      });
      expect(answer.status).toBe(200);
      // The page takes over what was stored meanwhile when it is come back to.
      const taken = page.waitForResponse((r) => r.url().endsWith(`/api/projects/${projectId()}`) && r.request().method() === 'GET');
      await page.evaluate(() => {
        (document.activeElement as HTMLElement | null)?.blur();
        window.dispatchEvent(new Event('focus'));
      });
      await taken;
      await settled(page);
      for (const key of ['1', 'h']) await page.keyboard.press(key);
      await settled(page);
      return next;
    },
    /** Colour of the very middle of the picture, 0..255 each. */
    async middle(): Promise<number[]> {
      const { width, height, rgb } = await shot();
      const sum = [0, 0, 0];
      for (let y = -3; y < 3; y++)
        for (let x = -3; x < 3; x++)
          for (let c = 0; c < 3; c++) sum[c]! += rgb[((Math.round(height / 2) + y) * width + Math.round(width / 2) + x) * 3 + c]! / 36;
      return sum;
    },
  };
}
