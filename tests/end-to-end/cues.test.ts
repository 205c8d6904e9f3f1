import type { ProjectView } from '../../core/api';
import { openInBrowser, settled, type InBrowser } from '../lib/application';
import { until } from '../lib/wait';

let studio: InBrowser;
let { address, page, desk } = {} as InBrowser;

beforeAll(async () => {
  studio = await openInBrowser('Court.glb', [
    { name: 'Ground', corner: [-6, 0, -6], along: [0, 0, 12], up: [12, 0, 0], albedo: 0.5 },
    { name: 'Wall', corner: [-5, 0, -3], along: [10, 0, 0], up: [0, 4, 0], albedo: 0.6 },
  ]);
  ({ address, page, desk } = studio);
  await settled(page);
});
afterAll(() => studio?.close());

const rig = async () => {
  const id = page.url().split('/').pop()!;
  return ((await (await fetch(`${address}/api/projects/${id}`)).json()) as ProjectView).rig;
};
const section = (title: string) => page.locator(`aside section[aria-label="${title}"]`);
const cards = () => page.locator('nav[aria-label="Cues"] button').count();

describe('cues on the desk', () => {
  it('are made from typical ones for the place, and gone to', async () => {
    await desk.unfold('Cue');
    await section('Cue').getByLabel('New typical cue').click();
    await desk.takeListed('Overcast');
    await until(async () => (await cards()) === 3, 'the new cue');
    await desk.saved();
    const { cues } = await rig();
    expect(cues.at(-1)).toMatchObject({ name: 'Overcast', kind: 'free', holds: { clouds: { cover: 1 } } });
    await page.locator('nav[aria-label="Cues"] button[aria-pressed="true"]', { hasText: 'Overcast' }).waitFor();
  });

  it('are told apart value by value, and take what another holds, or follow the day as it does', async () => {
    await desk.leave();
    await desk.press('1');
    await page.locator('nav[aria-label="Cues"] button[aria-pressed="true"] kbd', { hasText: '1' }).waitFor();
    await desk.set('Elevation', '33');
    await desk.unfold('Beside another cue');
    const beside = section('Beside another cue');
    await beside.getByLabel('Other cue').click();
    await desk.takeListed('Overcast');
    const row = (label: string) => beside.getByRole('row', { name: new RegExp(`^${label}`) });
    await row('Sun: elevation').getByText('33.0°').waitFor();
    await row('Sun: elevation').getByText('the day’s').waitFor();
    await beside.getByRole('button', { name: 'Take Sun: elevation of Overcast' }).click();
    await until(async () => (await row('Sun: elevation').count()) === 0, 'the sun to follow the day');
    await beside.getByRole('button', { name: 'Take Clouds of Overcast' }).click();
    await beside.getByText('the same').waitFor();
    await desk.saved();
    const [noon, , overcast] = (await rig()).cues;
    expect(noon!.holds).toEqual(overcast!.holds);
    await desk.leave();
    await page.keyboard.press('Control+z');
    await row('Clouds').waitFor();
    await desk.saved();
    expect((await rig()).cues[0]!.holds.clouds).toBeUndefined();
  });

  it('are deleted, but for the last', async () => {
    const remove = section('Cue').getByRole('button', { name: 'Delete', exact: true });
    for (const left of [2, 1]) {
      await remove.click();
      await until(async () => (await cards()) === left, 'a cue less');
    }
    expect(await remove.isDisabled()).toBe(true);
    expect(await section('Beside another cue').count()).toBe(0);
    await desk.saved();
  });

  it('had no error on the page', () => {
    expect(studio.faults).toEqual([]);
  });
});
