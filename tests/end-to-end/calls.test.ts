import { execFileSync } from 'node:child_process';
import type { HistoryEntry, ProjectView } from '../../core/api';
import type { Call } from '../../core/rig';
import { meanColor, openInBrowser, openPage, settled, type InBrowser } from '../lib/application';
import { deskOf } from '../lib/desk';
import { luminance } from '../../core/units';
import { until } from '../lib/wait';

let studio: InBrowser;
let { address, page, desk } = {} as InBrowser;
let id = '';

beforeAll(async () => {
  studio = await openInBrowser('Yard of calls.glb', [
    { name: 'Ground', corner: [-6, 0, -6], along: [0, 0, 12], up: [12, 0, 0], albedo: 0.5 },
    { name: 'Wall', corner: [-5, 0, -3], along: [10, 0, 0], up: [0, 4, 0], color: [0.7, 0.1, 0.1] },
  ]);
  ({ address, page, desk } = studio);
  await settled(page);
  id = page.url().split('/').pop()!;
});
afterAll(() => studio?.close());

const rig = async () => ((await (await fetch(`${address}/api/projects/${id}`)).json()) as ProjectView).rig;
const history = async () => (await (await fetch(`${address}/api/projects/${id}/history`)).json()) as HistoryEntry[];
const rail = () => page.locator('nav[aria-label="Cues"]');
const panel = (name: string) => page.locator(`section[aria-label="${name}"]`);
const names = async () => (await rail().getByRole('button').allInnerTexts()).map((text) => (text.includes('Noon') ? 'Noon' : 'Late sun'));

describe('the rail and the table of cues', () => {
  it('puts a cue elsewhere by a drag, as a step that can be undone', async () => {
    expect(await names()).toEqual(['Noon', 'Late sun']);
    const [from, to] = await Promise.all([
      rail().getByRole('button').nth(0).boundingBox(),
      rail().getByRole('button').nth(1).boundingBox(),
    ]);
    await page.mouse.move(from!.x + 40, from!.y + 40);
    await page.mouse.down();
    await page.mouse.move(to!.x + 40, to!.y + 20, { steps: 6 });
    await page.mouse.move(to!.x + 40, to!.y + 60, { steps: 6 });
    await page.mouse.up();
    await until(async () => (await names())[0] === 'Late sun', 'the other order');
    await desk.saved();
    expect((await rig()).cues.map((c) => c.id)).toEqual(['late', 'noon']);
    await desk.leave();
    await page.keyboard.press('Control+z');
    await until(async () => (await names())[0] === 'Noon', 'the order before');
  });

  it('holds a value of a row by a click on its mark, and lets it go by another', async () => {
    const sun = page.locator('aside section[aria-label="Sun"]');
    const mark = sun.getByRole('button', { name: /^Elevation: / });
    await mark.click();
    await sun.getByRole('button', { name: 'Elevation: held' }).waitFor();
    await desk.saved();
    expect((await rig()).cues[0]!.holds.sun?.elevationDeg).toBeGreaterThan(50);
    await mark.click();
    await sun.getByRole('button', { name: 'Elevation: follows the day' }).waitFor();
    await desk.saved();
    expect((await rig()).cues[0]!.holds.sun).toBeUndefined();
  });

  it('sets a value in all chosen cues at once, and copies one across', async () => {
    await desk.set('Elevation', '40');
    await desk.leave();
    await page.keyboard.press('e');
    const table = panel('Values by cues');
    for (const name of ['Noon', 'Late sun'])
      await table
        .getByRole('columnheader')
        .getByRole('button', { name: new RegExp(`^${name}`) })
        .click();
    await table.getByRole('button', { name: /^Sun: elevation in Noon/ }).click();
    const field = table.locator('footer input');
    await field.fill('31');
    await field.press('Enter');
    await desk.saved();
    expect((await rig()).cues.map((c) => c.holds.sun)).toEqual([{ elevationDeg: 31 }, { elevationDeg: 31 }]);
    await table.getByRole('button', { name: 'Follow the day' }).click();
    await desk.saved();
    expect((await rig()).cues.map((c) => c.holds.sun)).toEqual([undefined, undefined]);
    await table.getByRole('button', { name: 'Close' }).click();
    for (const card of await rail().getByRole('button').all()) await card.click({ modifiers: ['Control'] });
  });
});

describe('courses over the day', () => {
  it('draw each value that cues hold, and set it by its pins', async () => {
    await desk.unfold('Courses over the day');
    const chart = page.locator('aside').getByRole('group', { name: 'Course: Exposure: low' });
    await until(async () => (await chart.locator('path').count()) === 1, 'the course');
    const pin = chart.getByRole('slider', { name: /^Exposure: low in Late sun/ });
    await pin.focus();
    await pin.press('ArrowUp');
    await desk.saved();
    const { exposure } = (await rig()).cues[1]!.holds;
    expect(exposure!.lowEv).toBeGreaterThan(12.5);
    expect(exposure!.highEv).toBe(exposure!.lowEv);
    await desk.leave();
    await page.keyboard.press('Control+z');
    await desk.saved();
    expect((await rig()).cues[1]!.holds.exposure).toEqual({ lowEv: 12.5, highEv: 12.5, biasEv: 0 });
  });
});

describe('bench light', () => {
  it('is bright wherever the cue is dark, and goes again by the same key', async () => {
    const look = async () => {
      await settled(page);
      return luminance(await meanColor(page));
    };
    await desk.leave();
    const before = await look();
    await page.keyboard.press('b');
    await until(async () => Math.abs((await look()) - before) > 3, 'the bench light');
    await page.keyboard.press('b');
    await until(async () => Math.abs((await look()) - before) < 1, 'the light of the cue');
  });
});

describe('what a cue shows', () => {
  it('is without an object that it hides, and other cues are not', async () => {
    /** How red the picture is: the wall alone is red. */
    const look = async () => {
      await settled(page);
      const [r, g] = await meanColor(page);
      return r! - g!;
    };
    await desk.leave();
    await desk.press('1');
    const before = await look();
    await page.keyboard.press('g');
    await desk.choose('Wall');
    await page.locator('aside').getByText('hidden', { exact: true }).click();
    await until(async () => before - (await look()) > 2, 'the wall to be gone');
    await page.locator('aside').getByText('its shadow and its bounce stay', { exact: false }).waitFor();
    await desk.saved();
    const { cues, hidden } = await rig();
    expect(cues.map((c) => c.holds.objects)).toEqual([{ Wall: false }, undefined]);
    expect(hidden).toEqual([]);
    await page.locator('aside').getByText('as the day', { exact: true }).click();
    await until(async () => Math.abs((await look()) - before) < 0.5, 'the wall again');
    await desk.leave();
    await page.keyboard.press('f');
  });
});

describe('calls', () => {
  const section = () => page.locator('aside section[aria-label="Calls"]');
  const rehearsal = () => section().getByRole('status', { name: 'Rehearsal' });

  it('are made on the desk', async () => {
    await desk.unfold('Calls');
    await section().getByRole('button', { name: 'Add a call' }).click();
    await section().getByRole('textbox', { name: 'Event' }).fill('gate breached');
    await section().getByRole('textbox', { name: 'Event' }).press('Enter');
    await section().getByText('gate breached, until it is over').waitFor();
    await section().getByRole('combobox', { name: 'Cue', exact: true }).click();
    await desk.takeListed('Late sun');
    await desk.saved();
    expect((await rig()).calls).toMatchObject([{ when: { by: 'event', event: 'gate breached' }, cueId: 'late', priority: 10 }]);
  });

  it('of each kind are fired in a rehearsal', async () => {
    // The other two are written as a build machine would; the page hears of them.
    const { rig: now, revision } = (await (await fetch(`${address}/api/projects/${id}`)).json()) as ProjectView;
    const like = now.calls[0]!;
    const calls: Call[] = [
      { ...like, fadeS: 0.2 },
      {
        ...like,
        id: 'night',
        name: 'Night',
        priority: 20,
        cueId: 'noon',
        fadeS: 0.2,
        when: { by: 'day', from: { at: 'hour', hour: 7 }, to: { at: 'hour', hour: 9 }, days: { every: 1, first: 0, moon: null } },
      },
      { ...like, id: 'porch', name: 'Porch', priority: 30, fadeS: 0.2, when: { by: 'place', min: [0, 0, 0], max: [2, 2, 2], blendM: 1 } },
    ];
    const sent = await fetch(`${address}/api/projects/${id}/rig`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ base: revision, rig: { ...now, calls }, note: 'Two calls more' }),
    });
    expect(sent.status).toBe(200);
    await section()
      .getByRole('button', { name: /^Porch/ })
      .waitFor();
    await section().getByRole('button', { name: 'Rehearse' }).click();
    // The game begins at eight: the call of the day holds.
    await rehearsal().getByText('Night', { exact: true }).waitFor();
    await rehearsal().getByText('Noon', { exact: true }).waitFor();
    await section().getByRole('button', { name: 'Enter: Porch' }).click();
    await rehearsal().getByText('Porch', { exact: true }).waitFor();
    await rehearsal().locator('b', { hasText: 'Late sun' }).waitFor();
    await section().getByRole('button', { name: 'Leave: Porch' }).click();
    await rehearsal().locator('b', { hasText: 'Noon' }).waitFor();
    await section()
      .getByRole('button', { name: /^Fire: / })
      .click();
    await until(async () => (await rehearsal().locator('li').count()) === 2, 'the event under the call of the day');
    await section()
      .getByRole('button', { name: /^Over: / })
      .click();
    await until(async () => (await rehearsal().locator('li').count()) === 1, 'its end');
    await section().getByRole('button', { name: 'End the rehearsal' }).click();
    await rehearsal().waitFor({ state: 'detached' });
  });
});

describe('history', () => {
  it('names a revision, looks at it, tells what is other now, and goes back without losing the later ones', async () => {
    await page.locator('[data-testid="saved"]').click();
    const open = panel('History');
    await open.getByRole('button', { name: /^Revision 1:/ }).click();
    await open
      .getByText(/^Call .* added$/)
      .first()
      .waitFor();
    await open.getByLabel('Name of revision 1').fill('As it came');
    await open.getByRole('button', { name: 'Name', exact: true }).click();
    await open.getByText('As it came', { exact: true }).waitFor();
    await open.getByRole('button', { name: 'Look at it' }).click();
    await page.getByText('The picture shows revision 1.').waitFor();
    const count = (await history()).length;
    await open.getByRole('button', { name: 'Go back to it' }).click();
    await page.getByText('The picture shows revision 1.').waitFor({ state: 'detached' });
    await desk.saved();
    await until(async () => (await history()).length === count + 1, 'one revision more');
    expect((await rig()).calls).toEqual([]);
    expect((await history())[0]!.note).toBe('Back to revision 1');
    await open.getByRole('button', { name: 'Close' }).click();
    await desk.leave();
    await page.keyboard.press('Control+z');
    await desk.saved();
    expect((await rig()).calls).toHaveLength(3);
    const printed = execFileSync(process.execPath, ['bin/basil.mjs', 'rig', 'history', '--project', id, '--address', address], {
      encoding: 'utf8',
    });
    expect(printed).toMatch(/^1 {2}\S+ {2}As it came \(New project\)$/m);
  });

  it('keeps how a revision looked', async () => {
    await settled(page);
    await desk.set('Elevation', '22');
    await desk.saved();
    await settled(page);
    const [newest] = await history();
    await until(async () => (await history()).find((e) => e.revision === newest!.revision)!.hasPicture, 'its picture');
  });
});

describe('another page on the same project', () => {
  it('is told at once of what is stored here, and what both change goes together', async () => {
    const other = await openPage(page.context().browser()!);
    await other.goto(page.url());
    await settled(other);
    await desk.set('Elevation', '27');
    await desk.saved();
    const theirs = deskOf(other);
    await until(async () => (await theirs.field('Elevation').inputValue()) === '27.0', 'the value on the other page');
    await theirs.set('Azimuth', '200');
    await theirs.saved();
    await until(async () => (await desk.field('Azimuth').inputValue()) === '200.0', 'their value here');
    expect((await rig()).cues[0]!.holds.sun).toMatchObject({ elevationDeg: 27, azimuthDeg: 200 });
    await other.close();
  });

  it('had no error on the page', () => expect(studio.faults).toEqual([]));
});
