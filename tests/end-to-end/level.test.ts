import { KHRLightsPunctual, Light } from '@gltf-transform/extensions';
import type { ProjectView } from '../../core/api';
import { levelIo } from '../../core/level';
import { dropFile, openInBrowser, settled, type InBrowser } from '../lib/application';
import { bakesAt } from '../lib/bakes';
import { until } from '../lib/wait';
import { quadDocument, type Quad } from '../lib/level';

/** A yard in metres, Y up, whose objects are of a common size. */
const yard: Quad[] = [
  { name: 'Ground', corner: [-8, 0, -6], along: [0, 0, 12], up: [16, 0, 0] },
  { name: 'Wall', corner: [-6, 0, -3], along: [12, 0, 0], up: [0, 4, 0], color: [0.7, 0.1, 0.1], doubleSided: true },
  { name: 'Roof', corner: [-6, 4, -3], along: [12, 0, 0], up: [0, 0, -2], doubleSided: true },
  { name: 'Step', corner: [-6, 0.4, 2], along: [0, 0, 2], up: [10, 0, 0] },
];
const moved = yard.map((q): Quad => (q.name === 'Wall' ? { ...q, corner: [-6, 0, -1] } : q));

/** The same in centimetres with Z up, with a bulb and a sun. */
async function foreignYard(): Promise<Buffer> {
  const to = ([x, y, z]: Quad['corner']): Quad['corner'] => [x * 100, -z * 100, y * 100];
  const document = quadDocument(yard.map((q) => ({ ...q, corner: to(q.corner), along: to(q.along), up: to(q.up) })));
  const lights = document.createExtension(KHRLightsPunctual);
  const bulb = lights.createLight('Bulb').setType(Light.Type.POINT!).setIntensity(120);
  const sun = lights.createLight('Daylight').setType(Light.Type.DIRECTIONAL!).setIntensity(80_000);
  const [scene] = document.getRoot().listScenes();
  scene!.addChild(document.createNode('Bulb').setTranslation([0, 0, 200]).setExtension('KHR_lights_punctual', bulb));
  scene!.addChild(document.createNode('Daylight').setExtension('KHR_lights_punctual', sun));
  return Buffer.from(await (await levelIo()).writeBinary(document));
}

let studio: InBrowser;
let { address, page, desk } = {} as InBrowser;
beforeAll(async () => {
  studio = await openInBrowser('Yard.glb', yard);
  ({ address, page, desk } = studio);
});
afterAll(() => studio?.close());

const projectId = () => page.url().split('/').pop()!;
const project = async () => (await (await fetch(`${address}/api/projects/${projectId()}`)).json()) as ProjectView;
const bakes = () => bakesAt(address, projectId());
const button = (name: string | RegExp) => page.locator('aside').getByRole('button', { name, exact: true }).first();
const drop = (name: string, file: Buffer) => dropFile(page, name, file);

describe('a new version of a level', () => {
  it('keeps the rig, and the light of what did not change; what changed is baked by itself', async () => {
    await page.keyboard.press('g');
    await desk.set('Density', '2');
    await page.getByText('Rough', { exact: true }).click();
    await desk.saved();
    await button('Bake').click();
    await page.getByText('bake up to date').waitFor({ timeout: 360_000 });
    const before = { ...(await project()), bake: (await bakes()).done! };

    await drop('Yard.glb', Buffer.from(await (await levelIo()).writeBinary(quadDocument(moved))));
    await page.getByText('Wall: changed in this version of the level', { exact: true }).waitFor({ timeout: 360_000 });
    await settled(page);
    const after = await project();
    expect(after.rig).toEqual(before.rig);
    expect(after.level.hash).not.toBe(before.level.hash);
    const { done } = await bakes();
    expect(done!.plan.changed).toEqual(['Wall']);
    // The light of the rest is that of the bake before, file by file; the wall lies on a map of its own.
    expect(done!.maps.slice(0, before.bake.maps.length)).toEqual(before.bake.maps);
    expect(done!.maps).toHaveLength(before.bake.maps.length + 1);

    await button('Bake what changed').click();
    await page.getByText('bake up to date').waitFor({ timeout: 360_000 });
    const { done: baked } = await bakes();
    expect(baked!.only).toEqual(['Wall']);
    expect(baked!.plan.changed).toBeUndefined();
    expect(studio.faults).toEqual([]);
  });

  it('is looked over for what the rig names and the level has no more', async () => {
    await desk.choose('Step');
    await page.getByRole('switch', { name: 'Left out of the bake' }).click();
    await desk.saved();
    const without = quadDocument(moved.filter((q) => q.name !== 'Step'));
    await drop('Yard.glb', Buffer.from(await (await levelIo()).writeBinary(without)));
    await page.locator('aside').getByText('3', { exact: true }).waitFor({ timeout: 360_000 });
    await button('Look what it takes, and what would spoil it').click();
    await page.getByText('1 name of the rig is not in the level').waitFor({ timeout: 360_000 });
    expect((await project()).rig.bake.densities).toEqual({ Step: 0 });
  });
});

describe('a level in another unit', () => {
  it('is recognised, read right in one click, and as it was after an undo; its lights become lamps and the sun', async () => {
    await page.goto(address);
    await page.setInputFiles('input[type=file]', { name: 'Foreign.glb', mimeType: 'model/gltf-binary', buffer: await foreignYard() });
    await page.waitForURL(/\/projects\//, { timeout: 360_000 });
    await settled(page);
    await page.getByText('It seems to be in centimetres, Z up').waitFor();
    const sides = ({ level: { summary } }: ProjectView) => summary.max.map((v, c) => Math.round(v - summary.min[c]!));
    expect(sides(await project())).toEqual([1600, 1200, 400]);
    await page.getByRole('button', { name: 'Read in centimetres, Z up' }).click();
    await page.getByText('It seems to be in').waitFor({ state: 'detached' });
    await until(async () => (await project()).level.placing.up === 'z', 'the level in centimetres');
    await settled(page);
    expect(sides(await project())).toEqual([16, 4, 12]);

    await page.keyboard.press('g');
    await button('Make a lamp of it').click();
    await button(/^Sun of /).click();
    await until(async () => (await project()).rig.cues[0]!.holds.sun !== undefined, 'the sun of the file');
    const { rig } = await project();
    expect(rig.lamps).toMatchObject([
      { name: 'Bulb', at: [0, 2, 0], output: { by: 'candela', candela: 120 }, circuitId: 'from-the-level' },
    ]);
    expect(rig.cues[0]!.holds.sun).toMatchObject({ illuminanceLux: 80_000, elevationDeg: expect.closeTo(90, 3) as number });

    for (let step = 0; step < 3; step++) await page.keyboard.press('Control+z');
    await until(async () => (await project()).level.placing.up === 'y', 'the level as it was');
    expect(sides(await project())).toEqual([1600, 1200, 400]);
    await page.getByText('It seems to be in centimetres, Z up').waitFor();
    expect(studio.faults).toEqual([]);
  });
});
