import { luminance } from '../../core/units';
import { meanColor, openInBrowser, settled, type InBrowser } from '../lib/application';
import { openDatabase } from '../../server/data';
import { failBake } from '../../server/stores';
import { bakesAt } from '../lib/bakes';
import type { KeptBakes } from '../../core/api';
import { until } from '../lib/wait';

let studio: InBrowser;
let { address, page, desk } = {} as InBrowser;

beforeAll(async () => {
  studio = await openInBrowser('Yard.glb', [
    { name: 'Ground', corner: [-6, 0, -6], along: [0, 0, 12], up: [12, 0, 0], albedo: 0.5 },
    { name: 'Wall', corner: [-5, 0, -3], along: [10, 0, 0], up: [0, 4, 0], color: [0.7, 0.1, 0.1], doubleSided: true },
  ]);
  ({ address, page, desk } = studio);
  await page.keyboard.press('g');
  await desk.set('Density', '2');
  await page.getByText('Rough', { exact: true }).click();
  await page.locator('aside').getByRole('button', { name: 'Bake', exact: true }).click();
  await page.getByText('bake up to date').waitFor({ timeout: 360_000 });
  await settled(page);
});
afterAll(() => studio?.close());

const projectId = () => page.url().split('/').pop()!;
const bakes = () => bakesAt(address, projectId());
const look = async () => {
  await page.waitForTimeout(500);
  return meanColor(page);
};
const button = (name: string) => page.locator('aside').getByRole('button', { name, exact: true });
const show = (name: string) => page.getByRole('radio', { name, exact: true }).click();

describe('the Bake room', () => {
  it('hears the sun alone, the sky alone, and all again', async () => {
    const all = luminance(await look());
    await button('Show Sun alone').click();
    const sun = luminance(await look());
    await button('Show Sun alone').click();
    await button('Show Sky alone').click();
    const sky = luminance(await look());
    await button('Show all').click();
    expect(sun).toBeLessThan(all - 2);
    expect(sky).toBeLessThan(all - 2);
    expect(Math.abs(luminance(await look()) - all)).toBeLessThan(1);
  });

  it('trims a stem in this cue alone, without asking for a bake, and takes it back', async () => {
    const before = luminance(await look());
    await desk.set('Sky', '4');
    expect(luminance(await look())).toBeGreaterThan(before + 2);
    await page.getByText('1 trimmed in this cue').waitFor();
    await page.getByText('bake up to date').waitFor();
    await desk.leave();
    await page.keyboard.press('Control+z');
    expect(Math.abs(luminance(await look()) - before)).toBeLessThan(1);
  });

  it('shows light only, colours only, and each of its data, and the picture again', async () => {
    const picture = await look();
    const seen = new Map<string, number[]>();
    for (const name of ['Light only', 'Albedo', 'Open sky', 'Direction', 'Density', 'Gathered', 'Noise']) {
      await show(name);
      seen.set(name, await look());
    }
    await show('Picture');
    const apart = (a: number[], b: number[]) => Math.max(...a.map((v, i) => Math.abs(v - b[i]!)));
    for (const [name, colour] of seen) expect([name, apart(colour, picture) > 2]).toEqual([name, true]);
    const all = [...seen.values()];
    all.forEach((a, i) => all.slice(i + 1).forEach((b) => expect(apart(a, b)).toBeGreaterThan(1)));
    expect(apart(await look(), picture)).toBeLessThan(1.5);
  });

  it('tells the noise of each source, shows where it is, and leads to where most is left', async () => {
    const { sources, objects, allowed } = (await bakes()).done!.noise!;
    expect(sources.length).toBeGreaterThan(1);
    expect(allowed).toBe(0.4);
    const picture = await look();
    await page.getByRole('button', { name: /^Sky \d/ }).click();
    await page.getByText(/Noise of the sky’s light before filtering/).waitFor();
    expect((await look()).every((v, c) => Math.abs(v - picture[c]!) < 1)).toBe(false);
    await page.getByRole('button', { name: /^Sky \d/ }).click();
    expect(Math.abs((await look())[1] - picture[1])).toBeLessThan(1.5);
    for (const { object } of objects) await page.getByRole('button', { name: new RegExp(`^${object}: .* up to [\\d.]+ %`) }).waitFor();
  });

  it('foresees a bake, and says what would spoil it', async () => {
    await button('Look what it takes, and what would spoil it').click();
    await page
      .getByText(/texels a metre|Nothing was found|seen from behind|reflects/)
      .first()
      .waitFor({ timeout: 360_000 });
    const { found } = (await (await fetch(`${address}/api/projects/${projectId()}/look`)).json()) as {
      found: { estimate: { texels: number } };
    };
    expect(found.estimate.texels).toBeGreaterThan(400);
    await desk.set('Budget', '16');
    await desk.saved();
  });

  it('proposes densities within a budget, shows them in the picture, and takes them in one step', async () => {
    const rig = async () =>
      ((await (await fetch(`${address}/api/projects/${projectId()}`)).json()) as { rig: { bake: { densities: Record<string, number> } } })
        .rig;
    const section = page.locator('aside section[aria-label="Texels where they count"]');
    await section.getByText(/all walkable floor, \d+ places/).waitFor({ timeout: 360_000 });
    const picture = await look();
    const shown = section.getByRole('switch', { name: 'Show in the picture' });
    await shown.click();
    expect(Math.max(...(await look()).map((v, c) => Math.abs(v - picture[c]!)))).toBeGreaterThan(2);
    await shown.click();
    expect(Math.max(...(await look()).map((v, c) => Math.abs(v - picture[c]!)))).toBeLessThan(1.5);
    await desk.set('Texels', '200');
    await section.getByText(/coarser/).waitFor();
    await section.getByRole('button', { name: 'Take these densities' }).click();
    await section.getByRole('button', { name: 'These are the densities' }).waitFor();
    await desk.saved();
    const taken = (await rig()).bake.densities;
    for (const name of ['Ground', 'Wall']) expect([name, taken[name]! < 1]).toEqual([name, true]);
    await desk.leave();
    await page.keyboard.press('Control+z');
    await section.getByRole('button', { name: 'Take these densities' }).waitFor();
    await desk.saved();
    expect((await rig()).bake.densities).toEqual({});
    await page.getByText('bake up to date').waitFor();
  });

  it('bakes what is seen alone, at another quality, and says what stays stale', async () => {
    await page.getByText('Fair', { exact: true }).click();
    await page.getByText('The quality or bounces changed', { exact: true }).waitFor();
    const objects = page.locator('aside section[aria-label="Objects"]');
    await objects.getByLabel('Choose objects by').click();
    await desk.takeListed('In the picture');
    await objects.getByRole('button', { name: 'Choose', exact: true }).click();
    await objects.getByText('2 chosen').waitFor();
    await objects.getByRole('button', { name: 'List' }).click();
    await objects.getByRole('checkbox').first().click();
    await objects.getByText('1 chosen').waitFor();
    await desk.saved();
    await objects.getByRole('button', { name: 'Bake it alone' }).click();
    await page.getByText(/Outside of (Ground|Wall): the quality or bounces changed/).waitFor({ timeout: 360_000 });
    expect((await bakes()).done!.only).toHaveLength(1);
  });

  it('leaves an object out, which the next bake gives no texels, and which is lit all the same', async () => {
    await desk.choose('Wall');
    await page.getByRole('switch', { name: 'Left out of the bake' }).click();
    await page.getByText('Wall: left out now').first().waitFor();
    await desk.saved();
    await button('Bake what changed').click();
    await page.getByText('bake up to date').waitFor({ timeout: 360_000 });
    await settled(page);
    expect((await bakes()).done!.layout.densities).toEqual({ Wall: 0 });
    const [r, g] = await look();
    // Its red is still seen.
    expect(r - g).toBeGreaterThan(1);
    await button('Bake Wall again').click();
    await page.getByText('Wall: no longer left out').first().waitFor();
    await desk.saved();
  });

  it('lists its bakes: one is looked at, compared with the newest, pinned, and deleted', async () => {
    const rows = page.getByRole('list', { name: 'Bakes that are kept' }).getByRole('listitem');
    await until(async () => (await rows.count()) === 3, 'the three bakes');
    const { bakes: kept } = (await (await fetch(`${address}/api/projects/${projectId()}/bakes/kept`)).json()) as KeptBakes;
    const litBy = (place: number) => page.waitForSelector(`[data-testid="picture"][data-baked="${kept[place]!.id}"][data-settled="true"]`);
    await litBy(0);
    // The first one was made with the wall: it is laid out otherwise.
    await rows.last().getByRole('button').first().click();
    await page.getByRole('status').getByText('The bake of').waitFor();
    await litBy(2);
    await page.getByRole('button', { name: 'Back to the newest' }).click();
    await litBy(0);

    await rows.last().getByRole('button', { name: 'Compare' }).click();
    const line = page.getByRole('slider', { name: 'Line between the two bakes' });
    await line.press('ArrowLeft');
    expect(await line.getAttribute('aria-valuenow')).toBe('48');
    const sides = page.getByRole('img', { name: /^Lit by the bake of/ });
    expect(await sides.count()).toBe(2);
    const [one, other] = [await sides.first().getAttribute('src'), await sides.last().getAttribute('src')];
    expect(one).not.toBe(other);
    // It is of this light alone.
    await desk.leave();
    await desk.press('2');
    await line.waitFor({ state: 'detached' });
    await desk.press('1');

    await rows
      .nth(1)
      .getByRole('button', { name: /^Pin the bake/ })
      .click();
    await rows
      .nth(1)
      .getByRole('button', { name: /^Unpin the bake/ })
      .waitFor();
    await rows
      .last()
      .getByRole('button', { name: /^Delete the bake/ })
      .click();
    await page.getByRole('dialog').getByRole('button', { name: 'Delete' }).click();
    await until(async () => (await rows.count()) === 2, 'the bake to be gone');
    await litBy(0);
  });

  it('pauses a bake and lets it go on', async () => {
    await desk.set('Density', '12');
    await desk.saved();
    await button('Bake what changed').click();
    await button('Pause').click({ timeout: 90_000 });
    await page.getByText('What is gathered stays until it goes on.').waitFor();
    expect((await bakes()).atWork!.state).toBe('paused');
    await button('Go on').click();
    await until(async () => (await bakes()).atWork?.state !== 'paused', 'the bake to go on');
    await button('Finish early').click();
    await page.getByText('Finishing early: what is left gets the fewest paths.').waitFor();
    expect((await bakes()).atWork!.early).toBe(true);
    await button('Cancel').click();
    await until(async () => (await bakes()).atWork === null, 'the bake to be cancelled');
  });

  it('says why a bake failed, and lets it go on from what is kept', async () => {
    await button('Bake what changed').click();
    const { id } = (await until(async () => (await bakes()).atWork, 'the bake'))!;
    const kept = await until(
      async () => ((await bakes()).atWork?.kept ?? 0) > 0 && (await bakes()).atWork!.kept,
      'the first of its jobs to be done',
    );
    const db = openDatabase(process.env.BASIL_TEST_DATABASE!);
    await failBake(db, id, 'Gathering of map 1, rows 0 to 40, failed.');
    await db.destroy();
    await page.getByRole('alert').getByText('Gathering of map 1, rows 0 to 40, failed.').waitFor();
    await page.getByText(/% of the work is done and kept. A new bake discards it/).waitFor();
    await button('Try again').click();
    const again = await until(async () => (await bakes()).atWork, 'the bake to go on');
    expect(again).toMatchObject({ id, error: null });
    expect(again.kept).toBeGreaterThanOrEqual(kept);
    await button('Cancel').click();
    await until(async () => (await bakes()).atWork === null, 'the bake to be cancelled');
  });

  it('keeps baking: after a pause what changed is traced at rough, and the next edit ends that', async () => {
    await desk.set('Density', '12');
    await desk.saved();
    const keeps = page.getByRole('switch', { name: 'Keep baking' });
    await keeps.click();
    await page.getByText('At rough, by itself: the next edit ends it.').waitFor({ timeout: 360_000 });
    const first = (await bakes()).atWork!;
    expect(first.byItself).toBe(true);
    await desk.set('Density', '1');
    await desk.saved();
    const done = await until(async () => (await bakes()).done?.layout.texelsPerM === 1 && (await bakes()).done, 'the bake by itself');
    expect(done.id).not.toBe(first.id);
    await page.getByText('What changed since was traced at rough', { exact: true }).waitFor();
    await keeps.click();
    await until(async () => !(await bakes()).keepsBaking, 'an end of it');
  });

  it('had no error on the page', () => {
    expect(studio.faults).toEqual([]);
  });
});
