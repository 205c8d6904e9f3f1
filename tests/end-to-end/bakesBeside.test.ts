import type { KeptBakes } from '../../core/api';
import type { Rig } from '../../core/rig';
import { openProjectOf, settled, type InBrowser } from '../lib/application';
import { quadLevel, room } from '../lib/level';
import { pictureOf, type Shot } from '../lib/picture';
import { until } from '../lib/wait';

/** A room that is open to the west. */
const HALL = room(0, 4, { albedo: 0.6 }).filter((q) => q.name !== 'west');

let studio: InBrowser;
let { address, page, desk } = {} as InBrowser;
let picture: ReturnType<typeof pictureOf>;
let id = '';
beforeAll(async () => {
  studio = await openProjectOf('Hall that is open.glb', Buffer.from(await quadLevel(HALL)));
  ({ address, page, desk } = studio);
  picture = pictureOf(page, address);
  id = page.url().split('/').pop()!;
});
afterAll(() => studio?.close());

const kept = async () => ((await (await fetch(`${address}/api/projects/${id}/bakes/kept`)).json()) as KeptBakes).bakes;

/** Bakes the hall with so many bounces, and waits for its light. */
async function bakeWith(bounces: number): Promise<string> {
  await picture.store((rig): Rig => ({
    ...rig,
    bake: { ...rig.bake, quality: 'rough', texelsPerM: 2, maxMapSize: 256, bounces },
    vantages: [{ id: 'v', name: 'Inside', eye: [0.5, 1.6, 2], target: [3.5, 1.2, 2], fovDeg: 70 }],
    cues: rig.cues.map((cue) => ({ ...cue, vantageId: 'v', holds: { ...cue.holds, exposure: { lowEv: 12, highEv: 12, biasEv: 0 } } })),
  }));
  const before = (await kept()).length;
  const asked = { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ whole: true }) };
  expect((await fetch(`${address}/api/projects/${id}/bakes`, asked)).status).toBe(200);
  const { id: bakeId } = (await until(async () => (await kept()).length > before && (await kept())[0], 'the bake'))!;
  await page.locator(`[data-testid="picture"][data-baked="${bakeId}"]`).waitFor({ timeout: 360_000 });
  await settled(page);
  return bakeId;
}
const layOut = async (how: 'A' | 'B') => {
  await page.locator('aside section[aria-label="Shown"] .ant-segmented-item', { hasText: new RegExp(`^${how}$`) }).click();
  await settled(page);
};
/** What of a picture nothing lies over. */
const middle = ({ width, height, rgb }: Shot) => rgb.subarray(Math.round(height * 0.2) * width * 3, Math.round(height * 0.8) * width * 3);
const mean = (shot: Shot) => middle(shot).reduce((sum, v) => sum + v, 0) / middle(shot).length;

it('a side is lit by another bake of the same layout, as that one lights the picture by itself', async () => {
  const first = await bakeWith(0);
  await bakeWith(8);
  await desk.leave();
  await desk.press('r');
  const sides = page.locator('aside section[aria-label="Sides"]');
  await sides.getByRole('combobox', { name: 'Light of B' }).click();
  await desk.takeListed('What is shown');
  await layOut('A');
  const own = await picture.shot();
  await sides.getByRole('combobox', { name: 'B is lit by' }).click();
  await desk.takeListed('Rough, 2 tx/m');
  await layOut('B');
  await page.locator('main').getByText('another bake', { exact: false }).waitFor();
  await until(async () => !(await page.locator('main').innerText()).includes('being read'), 'its light');
  const other = await picture.shot();
  expect(mean(own)).toBeGreaterThan(mean(other) * 1.1);

  await desk.leave();
  await desk.press('g');
  await page.getByRole('list', { name: 'Bakes that are kept' }).getByRole('listitem').last().getByRole('button').first().click();
  await page.locator(`[data-testid="picture"][data-baked="${first}"]`).waitFor();
  expect(middle(await picture.shot()).equals(middle(other))).toBe(true);
  expect(studio.faults).toEqual([]);
});
