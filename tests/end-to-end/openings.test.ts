import { setOpenings, showObjects, type Rig } from '../../core/rig';
import { meanColor, openProjectOf, settled, type InBrowser } from '../lib/application';
import { bakesAt } from '../lib/bakes';
import { quadLevel, room } from '../lib/level';
import { pictureOf } from '../lib/picture';
import { until } from '../lib/wait';

/** A room without a window but for its west wall, which is a shutter. */
const HALL = room(0, 4, { albedo: 0.6 }).map((q) => (q.name === 'west' ? { ...q, name: 'Shutter' } : q));

let studio: InBrowser;
let { address, page, desk } = {} as InBrowser;
let id = '';
beforeAll(async () => {
  studio = await openProjectOf('Hall with a shutter.glb', Buffer.from(await quadLevel(HALL)));
  ({ address, page, desk } = studio);
  id = page.url().split('/').pop()!;
});
afterAll(() => studio?.close());

const section = () => page.locator('aside section[aria-label="Openings"]');
const inside = (rig: Rig): Rig => ({
  ...rig,
  bake: { ...rig.bake, quality: 'rough', texelsPerM: 2, maxMapSize: 256, bounces: 4 },
  vantages: [{ id: 'v', name: 'Inside', eye: [0.5, 1.6, 2], target: [3.5, 1.2, 2], fovDeg: 70 }],
  cues: rig.cues.map((cue) => ({ ...cue, vantageId: 'v', fadeS: 0 })),
});

it('light comes in where a cue opens a shutter, once that is baked, and in no other cue', async () => {
  const picture = pictureOf(page, address);
  await picture.store(inside);
  await page.keyboard.press('g');
  await desk.choose('Shutter');
  await page.locator('aside').getByText('hidden', { exact: true }).click();
  await page.locator('aside').getByText('its shadow and its bounce stay', { exact: false }).waitFor();
  await page.getByRole('switch', { name: 'Opening', exact: true }).click();
  await page.locator('aside').getByText('Open here', { exact: false }).waitFor();
  await desk.saved();
  expect((await picture.project()).rig).toMatchObject({ openings: ['Shutter'], cues: [{ holds: { objects: { Shutter: false } } }, {}] });
  await desk.unfold('Openings');
  expect(await section().innerText()).toContain('after the level');

  await page.locator('aside').getByRole('button', { name: 'Bake', exact: true }).click();
  const { opened } = await until(
    async () => {
      const now = await bakesAt(address, id);
      return now.opened.length === 1 && now.atWork === null && now;
    },
    'the bake without the shutter',
    400,
  );
  expect(opened[0]!.only!.sort()).toEqual(['ceiling', 'east', 'floor', 'north', 'south']);
  await page.locator('[data-testid="picture"][data-opened="1"]').waitFor({ timeout: 360_000 });
  await until(async () => (await section().innerText()).includes('5 objects'), 'the list to say so');

  const bright = async (key: string) => {
    await desk.leave();
    await desk.press(key);
    await page.waitForTimeout(500);
    await settled(page);
    return Math.max(...(await meanColor(page)));
  };
  const [open, closed] = [await bright('1'), await bright('2')];
  expect(closed).toBeLessThan(3);
  expect(open).toBeGreaterThan(closed + 20);
  expect(await bright('1')).toBeCloseTo(open, 0);
  // Without the word for it the light is that of the wall.
  await picture.store((rig) => {
    const next = structuredClone(rig);
    setOpenings(next, ['Shutter'], false);
    return next;
  });
  expect(await bright('1')).toBeLessThan(3);
  await picture.store((rig) => {
    const next = structuredClone(rig);
    setOpenings(next, ['Shutter'], true);
    showObjects(next, { cueId: next.cues[0]!.id }, ['Shutter'], null);
    return next;
  });
  expect(await bright('1')).toBeLessThan(3);
  await desk.leave();
});
