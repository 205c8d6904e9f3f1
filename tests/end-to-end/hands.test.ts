import { lampsOf, type Rig } from '../../core/rig';
import { dropFile, meanColor, openProjectOf, settled, type InBrowser } from '../lib/application';
import { postAt, postsLevel } from '../lib/postsLevel';
import { oneVantage } from '../lib/vantage';
import { until } from '../lib/wait';

/** A street of 40 equal posts, among 800 objects; each way through the work is driven and its clicks and keys are counted. */
const POSTS = 40;
let studio: InBrowser;
let { address, page, desk } = {} as InBrowser;
let hands = 0;
/** The rig with a fixture at every post. */
let lit: Rig | null = null;

beforeAll(async () => {
  studio = await openProjectOf('Street.glb', Buffer.from(await postsLevel({ posts: POSTS, objects: 800 })));
  ({ address, page, desk } = studio);
  // Stands before the ninth post, whose arm reaches over the street, on a dull evening.
  const [x, , z] = postAt(8);
  await change((rig) => {
    rig.vantages = oneVantage({ eye: [x + 4, 3.4, z + 7], target: [x, 2.4, z], fovDeg: 50 });
    rig.cues[0]!.hour = 20.6;
    rig.cues[0]!.holds = { exposure: { lowEv: 3, highEv: 3, biasEv: 0 } };
  });
});
afterAll(() => studio?.close());

const projectUrl = () => `${address}/api/projects/${page.url().split('/').pop()}`;
const stored = async () => (await (await fetch(projectUrl())).json()) as { rig: Rig; revision: number };
const rig = async (): Promise<Rig> => {
  await desk.saved();
  return (await stored()).rig;
};
/** Changes what is stored, and opens it anew. */
async function change(recipe: (rig: Rig) => void): Promise<void> {
  const { rig, revision } = await stored();
  recipe(rig);
  const answer = await fetch(`${projectUrl()}/rig`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', origin: address },
    body: JSON.stringify({ base: revision, rig, note: 'By the test' }),
  });
  expect(answer.status).toBe(200);
  await page.reload();
  await settled(page);
}
const section = (name: string) => page.locator(`aside section[aria-label="${name}"]`);

/** One click or key each, counted. */
const key = async (keys: string) => {
  hands++;
  await page.keyboard.press(keys);
};
const press = async (name: string | RegExp) => {
  hands++;
  await page.getByRole('button', { name }).first().click();
};
const picture = async (x: number, y: number, modifiers: ('Shift' | 'Control')[] = []) => {
  hands++;
  await page.locator('[data-testid="picture"] canvas').click({ position: { x, y }, modifiers });
  await settled(page);
};
/** A click into a field, what is typed counted as one, and Enter. */
const type = async (label: string, text: string) => {
  hands += 3;
  await desk.set(label, text);
};
const drag = async (from: [number, number], to: [number, number], hold: 'Shift' | 'Control' | null, during?: string) => {
  hands++;
  const box = (await page.locator('[data-testid="picture"] canvas').boundingBox())!;
  if (hold) await page.keyboard.down(hold);
  await page.mouse.move(box.x + from[0], box.y + from[1]);
  await page.mouse.down();
  await page.mouse.move(box.x + (from[0] + to[0]) / 2, box.y + (from[1] + to[1]) / 2, { steps: 3 });
  if (during) await key(during);
  await page.mouse.move(box.x + to[0], box.y + to[1], { steps: 3 });
  await page.mouse.up();
  if (hold) await page.keyboard.up(hold);
  await settled(page);
};
/** Runs a way and answers how many clicks and keys it took. */
const counted = async (way: () => Promise<void>): Promise<number> => {
  hands = 0;
  await way();
  return hands;
};
/** Where a point of the arm and one of the ground stand in the picture. */
const ARM: [number, number] = [404, 230];
const GROUND: [number, number] = [404, 560];

describe('lamps at equal objects', () => {
  it('light 40 posts in under 15 clicks and keys, as one step', async () => {
    const taken = await counted(async () => {
      await key('l');
      await press('Add a circuit');
      await press('In the dark');
      await key('n');
      await picture(...ARM);
      await type('Output', '1500');
      await press(/^Put it at 39 more/);
      await until(async () => (await rig()).placed.length === POSTS, 'the copies to stand');
    });
    expect(taken).toBeLessThan(15);
    const now = await rig();
    const lamps = lampsOf(now);
    expect(lamps).toHaveLength(POSTS);
    expect(new Set(lamps.map((l) => l.circuitId))).toEqual(new Set([now.circuits[0]!.id]));
    expect(now.circuits[0]!.rule).toMatchObject({ by: 'darkness' });
    // Each stands at its post as the first does: on the arm, over the street.
    const offset = (i: number) => {
      const { at } = lamps[now.placed.findIndex((p) => p.object === `Post ${i + 1}`)]!;
      const [x, y, z] = postAt(i);
      const side = z < 0 ? 1 : -1;
      return [(at[0] - x) * side, at[1] - y, (at[2] - z) * side];
    };
    for (let i = 0; i < POSTS; i++) offset(i).forEach((v, c) => expect(v).toBeCloseTo(offset(8)[c]!, 2));
    await desk.leave();
    await page.keyboard.press('Control+z');
    expect((await rig()).placed).toHaveLength(0);
    await page.keyboard.press('Control+Shift+z');
    expect((await rig()).placed).toHaveLength(POSTS);
  });

  it('take one lamp more in place, at all copies, in under 8', async () => {
    const before = lampsOf(await rig()).length;
    const taken = await counted(async () => {
      await picture(...ARM);
      await key('o');
      await page.getByText(/is open$/).waitFor();
      await key('n');
      await picture(...GROUND);
      await key('o');
    });
    expect(taken).toBeLessThan(8);
    expect(lampsOf(await rig())).toHaveLength(before + POSTS);
  });

  it('are offered for equal posts that have none', async () => {
    // Taking copies away leaves their posts to be offered again.
    await change((r) => void (r.placed = r.placed.slice(0, POSTS - 3)));
    await page.keyboard.press('l');
    const offer = page.locator('aside section', { hasText: /objects like Post \d+ have no/ });
    await offer.waitFor();
    await page.getByRole('button', { name: 'Put one at each' }).click();
    await until(async () => (await rig()).placed.length === POSTS, 'the offered copies to stand');
    await offer.waitFor({ state: 'detached' });
    lit = await rig();
  });
});

describe('lamps in the air', () => {
  const lamp = async () => (await rig()).lamps[0]!;
  /** Where its dot is in the picture: the middle of it, seen straight on. */
  const DOT: [number, number] = [404, 308];

  it('move at their height, along an axis by a key, and are duplicated by a drag and by a key', async () => {
    await change((r) => {
      const [first] = r.fixtures[0]!.lamps;
      Object.assign(r, { fixtures: [], placed: [] });
      r.lamps = [{ ...first!, id: 'hanging', name: 'Hanging', at: [-33, 6, -4] }];
      r.vantages = oneVantage({ eye: [-33, 6, 6], target: [-33, 6, -4], fovDeg: 50 });
    });
    await page.keyboard.press('l');
    await page.keyboard.press('h');
    await settled(page);
    await drag(DOT, [500, 308], null, 'x');
    const moved = await lamp();
    expect(moved.at[0]).toBeGreaterThan(-32.5);
    expect(moved.at.slice(1)).toEqual([6, -4]);
    await drag([500, 308], [500, 240], null, 'y');
    const raised = await lamp();
    expect(raised.at[1]).toBeGreaterThan(6.5);
    expect(raised.at[0]).toBeCloseTo(moved.at[0], 1);
    await drag([500, 240], [330, 240], 'Control', 'x');
    const both = (await rig()).lamps;
    expect(both.map((l) => l.name)).toEqual(['Hanging', 'Hanging 1']);
    expect(both[1]!.at[0]).toBeLessThan(-33);
    await page.keyboard.press('Control+d');
    expect((await rig()).lamps).toHaveLength(3);
    await desk.leave();
    for (let i = 0; i < 2; i++) await page.keyboard.press('Control+z');
    expect((await rig()).lamps).toHaveLength(1);
  });

  it('line up with what is below, stand in a row, take values, and go to a circuit by a key', async () => {
    await section('Lamps').getByText('Hanging', { exact: true }).click();
    await page.getByRole('button', { name: 'Line up above' }).click();
    await until(async () => Math.abs((await lamp()).at[0] + 33) < 3.5, 'the lamp to be lined up');
    await page.getByRole('button', { name: 'Copy values' }).click();
    await page.keyboard.press('t');
    await page.getByRole('group', { name: 'Plan view' }).waitFor();
    await page.getByRole('button', { name: 'In a row of 5' }).click();
    await picture(700, 308);
    await until(async () => (await rig()).lamps.length === 5, 'the row to stand');
    const row = (await rig()).lamps;
    const steps = row.slice(1).map((l, i) => l.at.map((v, c) => v - row[i]!.at[c]!));
    for (const step of steps) step.forEach((v, c) => expect(v).toBeCloseTo(steps[0]![c]!, 3));
    expect(Math.hypot(...steps[0]!)).toBeGreaterThan(3);
    // A rectangle in the plan chooses them all; a key puts them into the first circuit, another into none.
    await page.keyboard.press('Shift+0');
    expect((await rig()).lamps.map((l) => l.circuitId)).toEqual(row.map(() => null));
    await drag([20, 20], [780, 590], 'Shift');
    await page.keyboard.press('Shift+1');
    const id = (await rig()).circuits[0]!.id;
    expect((await rig()).lamps.map((l) => l.circuitId)).toEqual(row.map(() => id));
    await page.keyboard.press('t');
    await settled(page);
  });

  it('are heard by their circuit alone, or not at all, without touching a cue', async () => {
    const before = await rig();
    await page.getByRole('button', { name: `Mute ${before.circuits[0]!.name} while working` }).click();
    await page.getByRole('button', { name: 'some circuits are muted' }).waitFor();
    await page.reload();
    await settled(page);
    // It is remembered, and said in every room.
    await page.getByRole('button', { name: 'some circuits are muted' }).click();
    await page.getByRole('button', { name: 'some circuits are muted' }).waitFor({ state: 'detached' });
    expect(await rig()).toEqual(before);
  });
});

describe('objects chosen in the picture', () => {
  it('raise the density of every hut in under 6', async () => {
    // Before a hut; its slider is clicked where twice the density is.
    await change((r) => void (r.vantages = oneVantage({ eye: [-48, 4, -3], target: [-47.5, 1, -11], fovDeg: 50 })));
    const slider = section('Objects').locator('.ant-slider').first();
    const taken = await counted(async () => {
      await key('g');
      await picture(404, 300);
      await key('m');
      await section('Objects').getByText('60 chosen').waitFor();
      const box = (await slider.boundingBox())!;
      hands++;
      // It lies below the fold of a small window.
      await slider.click({ position: { x: box.width * 0.625, y: box.height / 2 } });
      await until(async () => Object.keys((await rig()).bake.densities).length === 60, 'the density to be set');
    });
    expect(taken).toBeLessThan(6);
    const { densities } = (await rig()).bake;
    const [first] = Object.values(densities);
    expect(first).toBeGreaterThan(1.5);
    expect(Object.values(densities)).toEqual(Array(60).fill(first));
    await desk.leave();
    await page.keyboard.press('Control+z');
    expect((await rig()).bake.densities).toEqual({});
  });

  it('are chosen by a rectangle, by name, and shown after a reload', async () => {
    await page.keyboard.press('Shift+H');
    await settled(page);
    await section('Objects').getByLabel('Pattern of names').fill('post 1*');
    await section('Objects').getByLabel('Pattern of names').press('Enter');
    await section('Objects').getByText('11 chosen').waitFor();
    await drag([10, 10], [800, 600], 'Shift');
    await section('Objects').getByText('800 chosen').waitFor();
    await page.reload();
    await settled(page);
    await page.keyboard.press('g');
    await section('Objects').getByText('800 chosen').waitFor();
  });

  it('get a role, all 800 at once, and the page answers meanwhile', async () => {
    await section('Objects').getByRole('switch', { name: 'Chosen objects cast live shadows' }).click();
    await until(async () => (await rig()).roles.length === 800, 'the roles to be given');
    expect((await rig()).roles.every((r) => !r.role.shadow && r.role.traced)).toBe(true);
    await section('Roles').getByText('800 objects').waitFor();
    await desk.leave();
    await page.keyboard.press('Control+z');
    expect((await rig()).roles).toEqual([]);
  });

  it('glow by a rule of their own, as bright as it says, in one step each', async () => {
    await change((r) => void (r.vantages = oneVantage({ eye: [-48, 4, -3], target: [-47.5, 1, -11], fovDeg: 50 })));
    await page.keyboard.press('g');
    await picture(404, 300);
    await page.keyboard.press('l');
    await desk.unfold('Glow');
    const brightness = async () => (await meanColor(page)).reduce((sum, v) => sum + v) / 3;
    const before = await brightness();
    await section('Glow').getByLabel('Make a material glow').click();
    await desk.takeListed('Plaster');
    await until(async () => (await rig()).glows.length === 1, 'the rule');
    const [rule] = (await rig()).glows;
    expect(rule).toMatchObject({ material: 'Plaster', objects: [expect.stringMatching(/^Hut/)], emission: { luminance: 1000 } });
    const bright = await brightness();
    expect(bright).toBeGreaterThan(before + 10);
    const field = section('Glow').locator('input[aria-label^="Luminance"]');
    await field.fill('5');
    await field.press('Enter');
    await until(async () => (await rig()).glows[0]!.emission!.luminance === 5, 'the luminance');
    const dim = await brightness();
    expect(dim).toBeLessThan(bright - 5);
    expect(dim).toBeGreaterThan(before);
    await desk.leave();
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    expect((await rig()).glows).toEqual([]);
    expect(Math.abs((await brightness()) - before)).toBeLessThan(1);
  });

  it('are offered for equal posts that a newer version of the level brings', async () => {
    await change((r) => Object.assign(r, { fixtures: lit!.fixtures, placed: lit!.placed }));
    await page.keyboard.press('l');
    const before = (await rig()).placed.length;
    await dropFile(page, 'Street.glb', Buffer.from(await postsLevel({ posts: POSTS + 2, objects: 800 })));
    await page.locator('aside section', { hasText: /2 objects like Post \d+ have no/ }).waitFor({ timeout: 360_000 });
    await page.getByRole('button', { name: 'Put one at each' }).click();
    await until(async () => (await rig()).placed.length === before + 2, 'the offered copies to stand');
    const [x, , z] = postAt(POSTS);
    const stands = (await rig()).placed.some(({ at }) => Math.hypot(at[0] - x, at[2] - z) < 1.5);
    expect(stands).toBe(true);
  });

  it('are looked at from saved views, and a cue from its own', async () => {
    const saved = async () => {
      await page.keyboard.press('v');
      return (await rig()).vantages.at(-1)!;
    };
    await desk.leave();
    await desk.press('1');
    await settled(page);
    await page.keyboard.press('Shift+H');
    await settled(page);
    const whole = await saved();
    await page.getByRole('button', { name: /^View/ }).click();
    const menu = page.locator('section[aria-label="Vantages"]');
    await menu.getByRole('button', { name: new RegExp(`^${whole.name}`) }).click();
    await menu.getByLabel('Name').fill('Above the street');
    await menu.getByLabel('Name').press('Enter');
    await menu.getByLabel(/is looked at$/).click();
    await desk.takeListed('from Above the street');
    await until(async () => (await rig()).cues[0]!.vantageId === whole.id, 'the cue to name it');
    expect((await rig()).vantages.at(-1)).toEqual({ ...whole, name: 'Above the street' });
    await page.keyboard.press('Escape');
    await desk.leave();
    await page.keyboard.press('Alt+1');
    await settled(page);
    const first = await saved();
    expect(first.eye).not.toEqual(whole.eye);
    await desk.press('2');
    await page.waitForTimeout(1500);
    await settled(page);
    expect((await saved()).eye).toEqual(first.eye);
    await desk.press('1');
    await page.waitForTimeout(1500);
    await settled(page);
    expect((await saved()).eye).toEqual(whole.eye);
    expect((await rig()).vantages).toHaveLength(5);
    for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
    expect((await rig()).vantages).toHaveLength(2);
  });

  it('had no error on the page', () => {
    expect(studio.faults).toEqual([]);
  });
});
