import sharp from 'sharp';
import { lampsOf, type Rig } from '../../core/rig';
import { luminance } from '../../core/units';
import { meanColor, openInBrowser, settled, type InBrowser } from '../lib/application';
import { iesText } from '../lib/ies';
import { quadLevel } from '../lib/level';
import { until } from '../lib/wait';

let studio: InBrowser;
let { address, page, desk } = {} as InBrowser;

beforeAll(async () => {
  // Marks of lamps are some pixels wide.
  studio = await openInBrowser(
    'Lot.glb',
    [
      { name: 'Ground', corner: [-10, 0, -10], along: [0, 0, 20], up: [20, 0, 0], albedo: 0.45 },
      { name: 'Wall', corner: [-6, 0, -4], along: [12, 0, 0], up: [0, 3, 0], albedo: 0.6, doubleSided: true },
    ],
    1,
  );
  ({ address, page, desk } = studio);
  // Night, exposed for lamps.
  await desk.set('Hour', '1');
  await page.locator('aside').getByText('Fixed', { exact: true }).click();
  await desk.set('EV100', '3');
  await desk.leave();
  await page.keyboard.press('l');
  await page.getByRole('button', { name: 'Place a lamp' }).waitFor();
});
afterAll(() => studio?.close());

const rig = async (): Promise<Rig> => {
  await desk.saved();
  return ((await (await fetch(`${address}/api/projects/${page.url().split('/').pop()}`)).json()) as { rig: Rig }).rig;
};
const brightness = async () => luminance(await meanColor(page));
const clickPicture = async (x: number, y: number, modifiers: 'Shift'[] = []) => {
  await page.locator('[data-testid="picture"] canvas').click({ position: { x, y }, modifiers });
  await settled(page);
};
const section = (name: string) => page.locator(`aside section[aria-label="${name}"]`);

/** The middle of what is another between two pictures of that width. */
function findChange(a: Buffer, b: Buffer, width: number, channels: number): [number, number] {
  let [x, y, count] = [0, 0, 0];
  for (let i = 0; i < a.length; i += channels) {
    if (Math.abs(a[i]! - b[i]!) <= 6) continue;
    const pixel = i / channels;
    x += pixel % width;
    y += Math.floor(pixel / width);
    count++;
  }
  return [x / count, y / count];
}

describe('the Lamps room', () => {
  it('places a lamp by a click, off the surface by the set distance, and it lights at once', async () => {
    const dark = await brightness();
    await desk.set('Off surface', '1.5');
    await page.getByRole('button', { name: 'Place a lamp' }).click();
    await clickPicture(400, 400);
    const [lamp] = (await rig()).lamps;
    expect(lamp).toMatchObject({ name: 'Lamp 1', circuitId: null });
    expect(lamp!.at[1]).toBeCloseTo(1.5, 2);
    await desk.set('Output', '4000');
    expect(await brightness()).toBeGreaterThan(dark * 1.5);
  });

  it('puts it in a circuit, which the dimmer plan dims by keys alone, cue by cue', async () => {
    await page.getByRole('button', { name: 'Add a circuit' }).click();
    await section('Chosen').getByRole('combobox', { name: 'Circuit' }).click();
    await desk.takeListed('Circuit 1');
    await until(async () => (await rig()).lamps[0]!.circuitId !== null, 'the lamp to be in the circuit');
    // A new circuit is on, and takes the lamps that are placed from now on.
    expect((await rig()).circuits[0]!.rule).toEqual({ by: 'on' });
    await page.getByRole('button', { name: 'New lamps go into Circuit 1', pressed: true }).waitFor();
    const full = await brightness();
    await desk.leave();
    await page.keyboard.press('p');
    const plan = page.getByRole('grid', { name: 'Circuits by cues' });
    await plan.locator('[data-at="0 0"]').focus();
    await desk.press('5');
    await desk.press('0');
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('+');
    await page.keyboard.press('Escape');
    const { cues, circuits } = await rig();
    const id = circuits[0]!.id;
    expect(cues[0]!.holds.dimmers![id]).toMatchObject({ on: true, level: 0.5 });
    expect(cues[1]!.holds.dimmers![id]).toMatchObject({ on: true, level: 1.1 });
    expect(await brightness()).toBeLessThan(full * 0.93);
  });

  it('aims it at a point, and shows its lines of equal light', async () => {
    await section('Chosen').getByText('Spot', { exact: true }).click();
    await page.getByRole('button', { name: 'Aim at a point' }).click();
    await clickPicture(480, 440);
    const { aim, shape, at } = (await rig()).lamps[0]!;
    expect(shape.kind).toBe('spot');
    expect(aim.elevationDeg).toBeGreaterThan(-89);
    expect(aim.elevationDeg).toBeLessThan(-5);
    expect(at[1]).toBeCloseTo(1.5, 2);
    await section('Lamps')
      .getByText(/Lines on the floor, 1\.5 m below: .*lx/)
      .waitFor();
    await desk.leave();
    for (let i = 0; i < 2; i++) await page.keyboard.press('Control+z');
    expect((await rig()).lamps[0]).toMatchObject({ circuitId: 'circuit-1', shape: { kind: 'point' } });
  });

  it('makes a fixture of it, places copies, edits all at once, and takes that back', async () => {
    await page.getByRole('button', { name: 'Make a fixture' }).click();
    await section('Fixtures').getByRole('button', { name: 'place', exact: true }).click();
    for (const [x, y] of [
      [300, 420],
      [480, 440],
      [520, 380],
    ] as const)
      await clickPicture(x, y, ['Shift']);
    await section('Fixtures').getByRole('button', { name: 'place', exact: true }).click();
    expect((await rig()).placed).toHaveLength(4);
    await section('Fixtures').getByRole('button', { name: 'edit', exact: true }).click();
    await section('Fixtures').locator('input[aria-label^="Output"]').fill('900');
    await section('Fixtures').locator('input[aria-label^="Output"]').press('Enter');
    expect(lampsOf(await rig()).map((l) => l.output)).toEqual(Array.from({ length: 4 }, () => ({ by: 'lumens', lumens: 900 })));
    await desk.leave();
    await page.keyboard.press('Control+z');
    expect(lampsOf(await rig()).map((l) => l.output)).toEqual(Array.from({ length: 4 }, () => ({ by: 'lumens', lumens: 4000 })));
  });

  it('moves lamps to another circuit by a drag from the list', async () => {
    await page.getByRole('button', { name: 'Add a circuit' }).click();
    const id = (await rig()).circuits[1]!.id;
    const row = section('Lamps').locator('[aria-selected]').first();
    await row.scrollIntoViewIfNeeded();
    const from = (await row.boundingBox())!;
    await page.mouse.move(from.x + 40, from.y + from.height / 2);
    await page.mouse.down();
    await page.mouse.move(from.x + 20, from.y + from.height / 2, { steps: 4 });
    // While lamps are dragged the circuits stand beside the desk, wherever it is scrolled to.
    const to = (await page.getByRole('list', { name: 'Circuits to drop on' }).locator(`[data-circuit="${id}"]`).boundingBox())!;
    await page.mouse.move(to.x + 30, to.y + to.height / 2, { steps: 6 });
    await page.mouse.up();
    const { placed, circuits } = await rig();
    expect(placed.filter((p) => p.circuitId === circuits[1]!.id)).toHaveLength(1);
    await desk.leave();
    await page.keyboard.press('Control+z');
    expect((await rig()).placed.map((p) => p.circuitId)).not.toContain(circuits[1]!.id);
  });

  it('makes a fixture look like an object of the level, or like a file, which is refused when it is none', async () => {
    await section('Fixtures').getByRole('button', { name: 'From the level' }).click();
    await clickPicture(400, 300);
    const [fixture] = (await rig()).fixtures;
    expect(fixture!.model).toMatchObject({ from: 'level' });
    const file = (buffer: Buffer) =>
      page.setInputFiles('input[aria-label^="Model of"]', { name: 'Hood.glb', mimeType: 'model/gltf-binary', buffer });
    await file(Buffer.from('no model at all'));
    await page.getByText(/neither binary glTF nor readable JSON/).waitFor();
    expect((await rig()).fixtures[0]!.model).toEqual(fixture!.model);
    const before = await brightness();
    const hood = await quadLevel([
      { name: 'Hood', corner: [-1, 0.2, -1], along: [0, 0, 2], up: [2, 0, 0], albedo: 0.9, doubleSided: true },
    ]);
    await file(Buffer.from(hood));
    await until(async () => (await rig()).fixtures[0]!.model?.from === 'file', 'the file to be read');
    await settled(page);
    expect(Math.abs((await brightness()) - before)).toBeGreaterThan(0.5);
  });

  it('puts a test ball into the picture, which is dragged along the ground and stays, and takes it away again', async () => {
    // Words of earlier steps may still lie over the upper part of the picture and its lower right corner.
    const box = (await page.locator('[data-testid="picture"] canvas').boundingBox())!;
    const clip = { x: box.x, y: box.y + box.height * 0.35, width: Math.round(box.width * 0.85), height: box.height * 0.6 };
    const shot = async () => {
      await settled(page);
      return sharp(await page.screenshot({ clip }))
        .removeAlpha()
        .raw()
        .toBuffer();
    };
    /** Share of the picture's pixels that are clearly another. */
    const apart = (a: Buffer, b: Buffer) => a.reduce((count, v, i) => count + Number(Math.abs(v - b[i]!) > 6), 0) / a.length;
    const before = await shot();
    await page.getByRole('switch', { name: 'Test ball' }).click();
    const put = await shot();
    await page.waitForTimeout(700);
    expect(apart(await shot(), put)).toBe(0);
    // It lies under the point looked at, in the middle of the picture or below.
    const ballAt = findChange(before, put, Math.round(clip.width), 3);
    await page.mouse.move(clip.x + ballAt[0], clip.y + ballAt[1]);
    await page.mouse.down();
    await page.mouse.move(clip.x + ballAt[0] + 120, clip.y + ballAt[1] + 30, { steps: 4 });
    await page.mouse.up();
    const moved = await shot();
    await page.getByRole('switch', { name: 'Test ball' }).click();
    const after = await shot();
    const shares = { ball: apart(put, before), moved: apart(moved, put), gone: apart(after, before) };
    expect(shares.ball).toBeGreaterThan(0.0002);
    expect(shares.moved).toBeGreaterThan(0.0002);
    expect(shares.gone).toBeLessThan(shares.ball / 3);
  });

  it('reads an IES file, and refuses a damaged one in plain words', async () => {
    await desk.unfold('Profiles');
    const file = (text: string, name: string) =>
      page.setInputFiles('[data-testid="ies-file"]', { name, mimeType: 'text/plain', buffer: Buffer.from(text) });
    const good = iesText({ vertical: [0, 45, 90], horizontal: [0], candela: (v) => 100 - v });
    await file(good.replace('45', 'forty'), 'odd.ies');
    await page.getByText(/vertical angle 2 of 3 is "forty"/).waitFor();
    await file(good, 'downlight.ies');
    await section('Profiles').getByText('downlight', { exact: true }).waitFor();
    expect((await rig()).profiles.map((p) => p.name)).toEqual(['downlight']);
  });

  it('finds a lamp that is too near, and leads to it', async () => {
    await desk.set('Off surface', '0.02');
    await page.getByRole('button', { name: 'Place a lamp' }).click();
    await clickPicture(420, 430);
    const fault = page.locator('aside [data-code="too-near"]');
    await fault.waitFor();
    await fault.click();
    await settled(page);
    expect(await fault.innerText()).toMatch(/2 cm away/);
    await page.getByRole('button', { name: 'Remove', exact: true }).click();
    await fault.waitFor({ state: 'detached' });
  });

  it('stays quick with 500 lamps, of which no more than the budget are live', async () => {
    const own = await rig();
    const many = Array.from({ length: 500 }, (_, i) => ({
      ...lampsOf(own)[0]!,
      id: `m-${i}`,
      name: `Many ${i}`,
      at: [(i % 25) * 0.7 - 8, 2.5, Math.floor(i / 25) * 0.8 - 8],
      placedId: undefined,
    }));
    const { revision } = (await (await fetch(`${address}/api/projects/${page.url().split('/').pop()}`)).json()) as { revision: number };
    const answer = await fetch(`${address}/api/projects/${page.url().split('/').pop()}/rig`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', origin: address },
      body: JSON.stringify({ base: revision, rig: { ...own, lamps: many }, note: 'Many lamps' }),
    });
    expect(answer.ok).toBe(true);
    await page.reload();
    await settled(page);
    await page.keyboard.press('l');
    await page.getByText('Many 3', { exact: true }).waitFor();
    await settled(page);
    const filter = page.getByRole('textbox', { name: 'Filter the lamps' });
    await filter.fill('Many 49');
    await page.getByRole('button', { name: 'Choose these 15' }).click();
    await desk.set('Output', '500');
    const saved = await rig();
    expect(saved.lamps.filter((l) => (l.output as { lumens: number }).lumens === 500)).toHaveLength(15);
    await page.locator('aside [data-code="too-many-live"]').or(section('What is wrong')).first().waitFor();
  });

  it('had no error on the page', () => {
    expect(studio.faults).toEqual([]);
  });
});
