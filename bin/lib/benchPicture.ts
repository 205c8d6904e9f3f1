import { openBrowser } from './openBrowser';

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
      await page.keyboard.press(String(i));
      await page.waitForTimeout(3000);
      await settled();
      const costs = page.locator('[data-testid="picture-costs"]');
      if ((await costs.count()) === 0) continue;
      const read = async (step: string) => Number(await costs.getAttribute(`data-${step}`));
      const [frame, plain, fog, bloom, grade] = await Promise.all([
        read('frame'),
        read('scene'),
        read('fog'),
        read('bloom'),
        read('grade'),
      ]);
      print(`picture, cue ${i}`, {
        frame,
        plain,
        fog,
        bloom,
        grade,
        fogRatio: fog / plain,
        bloomRatio: bloom / plain,
        gradeRatio: grade / plain,
      });
    }
  } finally {
    await browser.close();
  }
}
