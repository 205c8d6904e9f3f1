import { KHRLightsPunctual, KHRMaterialsVariants } from '@gltf-transform/extensions';
import { levelIo } from '../../core/level';
import type { ProjectView, ShelfEntry } from '../../core/api';
import { meanColor, openProjectOf, settled, type InBrowser } from '../lib/application';
import { quadDocument, type Quad } from '../lib/level';
import { until } from '../lib/wait';

let studio: InBrowser;
let { address, page, desk } = {} as InBrowser;
let id = '';

const QUADS: Quad[] = [
  { name: 'Ground', corner: [-4, 0, -3], along: [0, 0, 4], up: [8, 0, 0], albedo: 0.3 },
  { name: 'Wall', corner: [-4, 0, -3], along: [8, 0, 0], up: [0, 4, 0], color: [0.7, 0.05, 0.05] },
  { name: 'Blue', corner: [-1, 0, -3.5], along: [0, 0.5, 0], up: [1, 0, 0], color: [0.05, 0.05, 0.7] },
];

/** A pale yard before a red wall, which is green in a variant, and a blue patch that is out of sight behind it. */
async function yard(): Promise<Buffer> {
  const document = quadDocument(QUADS);
  const extension = document.createExtension(KHRMaterialsVariants);
  const green = document.createMaterial('Ivy').setBaseColorFactor([0.05, 0.6, 0.05, 1]);
  const mapping = extension.createMapping().setMaterial(green).addVariant(extension.createVariant('Overgrown'));
  const wall = document.getRoot().listMeshes()[1]!.listPrimitives()[0]!;
  wall.setExtension('KHR_materials_variants', extension.createMappingList().addMapping(mapping));
  return Buffer.from(await (await levelIo()).writeBinary(document));
}

/** The same yard, its wall under moss, with a fire. */
async function ruin(): Promise<Buffer> {
  const document = quadDocument(QUADS);
  const moss = document.createMaterial('Moss').setBaseColorFactor([0.1, 0.5, 0.1, 1]);
  document.getRoot().listMeshes()[1]!.listPrimitives()[0]!.setMaterial(moss);
  const fire = document.createExtension(KHRLightsPunctual).createLight('Fire').setType('point').setIntensity(50);
  const node = document.createNode('Fire').setTranslation([1, 0.5, -1]).setExtension('KHR_lights_punctual', fire);
  document.getRoot().listScenes()[0]!.addChild(node);
  return Buffer.from(await (await levelIo()).writeBinary(document));
}

beforeAll(async () => {
  studio = await openProjectOf('Yard of variants.glb', await yard());
  ({ address, page, desk } = studio);
  id = page.url().split('/').pop()!;
});
afterAll(() => studio?.close());

const rig = async () => ((await (await fetch(`${address}/api/projects/${id}`)).json()) as ProjectView).rig;
const shelf = async () => (await (await fetch(`${address}/api/shelf`)).json()) as ShelfEntry[];
const section = (name: string) => page.locator(`aside section[aria-label="${name}"]`);
const pick = async (within: string, label: string, choice: string) => {
  await section(within).getByRole('combobox', { name: label, exact: true }).click();
  await desk.takeListed(choice);
  await desk.saved();
  await settled(page);
};
/** How much stronger one channel of the picture's mean is than the others. */
const over = ([r, g, b]: [number, number, number]) => ({ red: r - (g + b) / 2, green: g - (r + b) / 2, blue: b - (r + g) / 2 });

describe('what a cue shows', () => {
  it('is the variant of the level’s materials that the day has, or its own', async () => {
    const red = over(await meanColor(page));
    await desk.unfold('Shown');
    await pick('Shown', 'Variant', 'Overgrown');
    expect((await rig()).cues[0]!.holds.variant).toBe('Overgrown');
    const grown = over(await meanColor(page));
    expect(grown.green).toBeGreaterThan(red.green + 5);
    expect(grown.red).toBeLessThan(red.red - 5);
    // The other cue is as the file has it.
    await desk.leave();
    await desk.press('2');
    await page.waitForTimeout(1500);
    expect(over(await meanColor(page)).red).toBeGreaterThan(0);
    await desk.press('1');
    await page.waitForTimeout(1500);
    await settled(page);
    await section('Shown').getByRole('button', { name: 'Variant: held' }).click();
    await desk.saved();
    expect((await rig()).cues[0]!.holds).not.toHaveProperty('variant');
    expect(over(await meanColor(page)).red).toBeCloseTo(red.red, 0);
  });

  it('is another material in place of one, until it is shown as it is', async () => {
    const before = over(await meanColor(page));
    await section('Shown').getByRole('combobox', { name: 'Material', exact: true }).click();
    await desk.takeListed('Wall');
    await pick('Shown', 'Shown in its place', 'Blue');
    expect((await rig()).cues[0]!.holds.looks).toEqual({ Wall: 'Blue' });
    expect(over(await meanColor(page)).blue).toBeGreaterThan(before.blue + 5);
    await section('Shown').getByRole('button', { name: 'Show Wall as it is' }).click();
    await desk.saved();
    expect((await rig()).cues[0]!.holds).not.toHaveProperty('looks');
    expect(over(await meanColor(page)).red).toBeCloseTo(before.red, 0);
  });
});

describe('another finished version of the level', () => {
  const version = () => page.getByRole('group', { name: 'Another version' });
  const bring = async (name: string) => {
    await page
      .getByLabel('Another finished version of the level')
      .setInputFiles({ name, mimeType: 'model/gltf-binary', buffer: await ruin() });
    await version().waitFor({ timeout: 360_000 });
  };

  it('is compared first, and can be discarded', async () => {
    await bring('Ruin.glb');
    expect(await version().getByRole('listitem').allInnerTexts()).toEqual(['Wall: Moss in place of Wall', 'lamp Fire']);
    await version().getByRole('button', { name: 'Discard' }).click();
    await version().waitFor({ state: 'detached' });
    expect((await rig()).cues).toHaveLength(2);
  });

  it('becomes a cue, with its materials as a variant and lamps that burn in it alone', async () => {
    await bring('Ruin.glb');
    await version().getByRole('button', { name: 'Add as a cue' }).click();
    await until(async () => (await rig()).cues.length === 3, 'the cue');
    await desk.saved();
    await page.waitForTimeout(1500);
    const { cues, lamps, circuits } = await rig();
    expect(cues[2]).toMatchObject({ name: 'Ruin', kind: 'free', holds: { variant: 'Ruin' } });
    expect(lamps.map((l) => [l.name, l.circuitId])).toEqual([['Fire', 'ruin']]);
    expect(circuits.map((c) => [c.name, c.rule.by])).toEqual([['Ruin', 'off']]);
    const moss = over(await meanColor(page));
    expect(moss.green).toBeGreaterThan(moss.red);
    // One step takes it back.
    await desk.leave();
    await page.keyboard.press('Control+z');
    await until(async () => (await rig()).cues.length === 2, 'the cues before');
    await desk.press('1');
    await page.waitForTimeout(1500);
    await settled(page);
  });

  it('is refused where its geometry is another one, by name', async () => {
    const other = quadDocument([{ name: 'Ground', corner: [-4, 0, -3], along: [0, 0, 4], up: [8, 0, 0] }]);
    const buffer = Buffer.from(await (await levelIo()).writeBinary(other));
    await page
      .getByLabel('Another finished version of the level')
      .setInputFiles({ name: 'Bare.glb', mimeType: 'model/gltf-binary', buffer });
    await page.getByText(/"Wall", "Blue" in the level alone/).waitFor({ timeout: 360_000 });
  });
});

describe('lamps in motion', () => {
  it('go along points that are clicked, live alone, and are seen where they are', async () => {
    await desk.leave();
    await page.keyboard.press('l');
    await desk.unfold('Placing');
    await page.getByRole('button', { name: 'Place a lamp' }).click();
    const box = (await page.locator('[data-testid="picture"] canvas').boundingBox())!;
    await page.mouse.click(box.x + box.width * 0.5, box.y + box.height * 0.66);
    await desk.saved();
    await pick('Chosen', 'Motion', 'goes along points');
    await section('Chosen').getByRole('button', { name: 'Add a point' }).click();
    await page.mouse.click(box.x + box.width * 0.4, box.y + box.height * 0.66);
    await desk.saved();
    const [lamp] = (await rig()).lamps;
    expect(lamp).toMatchObject({ kept: 'nothing', motion: { as: 'path', ends: 'back' } });
    expect((lamp!.motion as { through: unknown[] }).through).toHaveLength(2);
    await section('Circuits').getByRole('switch', { name: 'Show in motion' }).click();
    const first = await page.locator('[data-testid="picture"] canvas').screenshot();
    await until(async () => !first.equals(await page.locator('[data-testid="picture"] canvas').screenshot()), 'another picture');
    await section('Circuits').getByRole('switch', { name: 'Show in motion' }).click();
    await settled(page);
  });
});

describe('the shelf of all projects', () => {
  const panel = () => page.locator('section[aria-label="Shelf"]');

  it('keeps a cue, and gives another project a copy of it', async () => {
    await desk.leave();
    await page.keyboard.press('k');
    await panel().getByRole('button', { name: 'Keep Noon' }).click();
    await panel()
      .getByRole('button', { name: /^Take Noon/ })
      .last()
      .waitFor();
    const kept = (await shelf()).filter((e) => e.kind === 'cue').at(-1)!;
    await panel()
      .getByRole('button', { name: `Take ${kept.name}`, exact: true })
      .click();
    await until(async () => (await rig()).cues.length === 3, 'the copy');
    const { cues } = await rig();
    expect(cues[2]!.holds).toEqual(cues[0]!.holds);
    await page.locator('nav[aria-label="Cues"] [aria-pressed="true"]').getByText(cues[2]!.name, { exact: true }).waitFor();
  });

  it('renames what it keeps, and removes it; copies stay', async () => {
    const kept = (await shelf()).filter((e) => e.kind === 'cue').at(-1)!;
    const name = `Kept at noon ${Date.now() % 1e6}`;
    await panel().getByLabel(`Name of ${kept.name}`, { exact: true }).fill(name);
    await panel().getByLabel(`Name of ${kept.name}`, { exact: true }).press('Enter');
    await panel()
      .getByRole('button', { name: `Remove ${name}`, exact: true })
      .click();
    await page.getByRole('dialog').getByRole('button', { name: 'Remove', exact: true }).click();
    await until(async () => !(await shelf()).some((e) => e.id === kept.id), 'the shelf without it');
    expect((await rig()).cues).toHaveLength(3);
    await panel().getByRole('button', { name: 'Close' }).click();
  });

  it('had no error on the page', () => expect(studio.faults).toEqual([]));
});
