import { luminance } from '../../core/units';
import { openDatabase } from '../../server/data';
import { meanColor, openInBrowser, settled, type InBrowser } from '../lib/application';
import { bakesAt } from '../lib/bakes';
import { until } from '../lib/wait';

let studio: InBrowser;
let { address, page, desk } = {} as InBrowser;

beforeAll(async () => {
  studio = await openInBrowser('Large yard.glb', [
    { name: 'Ground', corner: [-9, 0, -9], along: [0, 0, 18], up: [18, 0, 0], albedo: 0.5 },
    { name: 'Wall', corner: [-8, 0, -3], along: [16, 0, 0], up: [0, 4, 0], color: [0.7, 0.1, 0.1], doubleSided: true },
  ]);
  ({ address, page, desk } = studio);
  await page.keyboard.press('g');
  await desk.set('Density', '11');
  await page.getByText('Fair', { exact: true }).click();
  await desk.saved();
});
afterAll(() => studio?.close());

const bakes = () => bakesAt(address, page.url().split('/').pop()!);
const shows = (bands: string) => page.waitForSelector(`[data-testid="picture"]${bands}[data-settled="true"]`, { timeout: 400_000 });
const look = async () => {
  await page.waitForTimeout(500);
  return luminance(await meanColor(page));
};

describe('a bake at work', () => {
  it('shows a coarse look of the level as it lays it out, then what is finished of it, in the same light', async () => {
    await page.locator('aside').getByRole('button', { name: 'Bake', exact: true }).click();
    await shows(':not([data-baked=""])[data-bands="0"]');
    const coarse = await look();
    await shows(':not([data-bands="0"])');
    const { atWork, done } = await bakes();
    expect(done).toBeNull();
    expect(atWork!.step).toBe('gather');
    await page.getByText(/What is in view is traced first: [1-9]\d* of \d+ parts of the lightmaps are done\./).waitFor();
    // It stays so while it is looked at, however long the picture takes.
    await page.locator('aside').getByRole('button', { name: 'Pause' }).click();
    await page.getByText('What is gathered stays until it goes on.').waitFor();
    const finer = await look();
    expect(coarse).toBeGreaterThan(20);
    expect(Math.abs(finer / coarse - 1)).toBeLessThan(0.05);
    // The page said where it is looked at from.
    const db = openDatabase(process.env.BASIL_TEST_DATABASE!);
    const { eye } = await db.selectFrom('bakes').select('eye').where('id', '=', atWork!.id).executeTakeFirstOrThrow();
    await db.destroy();
    expect(eye).toMatchObject({ fovDeg: expect.any(Number) });
  });

  it('takes all that away when it is cancelled', async () => {
    await page.locator('aside').getByRole('button', { name: 'Cancel', exact: true }).click();
    await until(async () => (await bakes()).atWork === null, 'the bake to be cancelled');
    await shows('[data-baked=""][data-bands="0"]');
    await settled(page);
  }, 500_000);

  it('had no error on the page', () => expect(studio.faults).toEqual([]));
});
