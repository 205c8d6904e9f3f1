import sharp from 'sharp';
import { calibrated, levelled, writeExr } from '../../core/image';
import { FACES, panoramaIlluminance, type Panorama } from '../../core/sky';
import { encodeSrgb, luminance } from '../../core/units';
import type { SkyImageView } from '../../core/api';
import type { Rig } from '../../core/rig';
import { meanColor, openInBrowser, settled, type InBrowser } from '../lib/application';
import { cutAt, knownSky } from '../lib/skies';
import { until } from '../lib/wait';

let studio: InBrowser;
let { address, page, desk } = {} as InBrowser;

beforeAll(async () => {
  studio = await openInBrowser('Terrace.glb', [
    { name: 'Ground', corner: [-10, 0, -10], along: [0, 0, 20], up: [20, 0, 0], albedo: 0.45 },
    { name: 'Wall', corner: [-6, 0, -4], along: [12, 0, 0], up: [0, 3, 0], albedo: 0.6, doubleSided: true },
  ]);
  ({ address, page, desk } = studio);
  await page.getByText('Image', { exact: true }).click();
});
afterAll(() => studio?.close());

const whole = knownSky(210, 35, 'clear').image;
const changed = (change: (rgba: Float32Array, width: number, height: number) => void, from = whole): Panorama => {
  const rgba = from.rgba.slice();
  change(rgba, from.width, from.height);
  return { ...from, rgba };
};
const lux = (image: Panorama) => luminance(panoramaIlluminance(image));

/** Brings a file in by the desk, and waits until it lies open and is read. */
async function bring(name: string, buffer: Uint8Array): Promise<void> {
  await page.setInputFiles('[data-testid="sky-file"]', { name, mimeType: 'application/octet-stream', buffer: Buffer.from(buffer) });
  await page.locator('section[aria-label="Sky image"]').getByText(name, { exact: true }).waitFor();
  await page
    .locator('section[aria-label="Sky image"] footer, section[aria-label="Sky image"] [role=alert]')
    .first()
    .waitFor({ timeout: 360_000 });
}
const bringImage = async (name: string, image: Panorama) => bring(name, await writeExr(image.rgba, image.width, image.height));

/** Takes a remedy and waits until the image was read with it. */
async function take(remedy: string): Promise<void> {
  await page.getByRole('button', { name: remedy, exact: true }).click();
  await page
    .locator(`section[aria-label="Sky image"] button[aria-pressed="true"]:not([disabled])`, { hasText: remedy })
    .waitFor({ timeout: 360_000 });
}
const isLeft = (code: string) => page.getByTestId(`problem-${code}`).getAttribute('data-left');
const close = () => page.getByRole('button', { name: 'Close the sky image' }).click();

describe('a sky image that is brought in', () => {
  it('is refused in plain words where it is none', async () => {
    await bring('letter.hdr', new TextEncoder().encode('Dear sky, how do you do?'));
    await page.getByText('letter.hdr is a text file, though its name says HDR').waitFor();
    await page.getByRole('button', { name: 'Remove from the shelf' }).click();
  });

  it('comes as six files, a face each, and is kept as one', async () => {
    const faces = await Promise.all(
      FACES.map(async (face, i) => ({
        name: `bowl_${face}.exr`,
        mimeType: 'application/octet-stream',
        buffer: Buffer.from(await writeExr(new Float32Array(64 * 64 * 4).fill(200 * (i + 1)), 64, 64)),
      })),
    );
    await page.setInputFiles('[data-testid="sky-file"]', faces.slice(0, 5));
    await page.getByText('A sky of single faces is six images; there are 5.').waitFor();
    await page.setInputFiles('[data-testid="sky-file"]', faces);
    await page.locator('section[aria-label="Sky image"]').getByText('bowl.zip', { exact: true }).waitFor();
    await page.getByText('six files, a face each').waitFor({ timeout: 360_000 });
    expect(await page.getByRole('button', { name: /^Use in/ }).isDisabled()).toBe(false);
    await close();
  });

  it('that is not 2:1 is fitted in each of three ways', async () => {
    await bringImage('wide.exr', { width: 512, height: 200, rgba: whole.rgba.slice(0, 512 * 200 * 4) });
    await page.getByText('512 x 200 is not 2:1: 28 % too wide').waitFor();
    expect(await page.getByRole('button', { name: /^Use in/ }).isDisabled()).toBe(true);
    for (const remedy of ['Pad above and below', 'Stretch to 2:1', 'Take as upper half']) {
      await take(remedy);
      expect(await isLeft('not-two-to-one')).toBe('false');
      expect(await page.getByRole('button', { name: /^Use in/ }).isDisabled()).toBe(false);
    }
    await close();
  });

  it('with holes, a seam, a black ground and a cut sun is mended, one after the other', async () => {
    const bad = changed((rgba, width, height) => {
      for (let i = 0; i < width * height; i++) {
        for (let c = 0; c < 3; c++) rgba[i * 4 + c] = i < (width * height) / 2 ? rgba[i * 4 + c]! * (0.6 + (0.4 * (i % width)) / width) : 0;
      }
    });
    const cut = cutAt(bad, 30_000);
    cut.rgba[(60 * 512 + 100) * 4] = NaN;
    cut.rgba[(70 * 512 + 300) * 4 + 1] = -4;
    await bringImage('bad.exr', cut);
    for (const [code, remedy] of [
      ['bad-values', 'Fill from neighbours'],
      ['clipped-sun', 'Rebuild the sun'],
      ['seam', 'Heal the seam'],
      ['black-ground', 'Fill the ground'],
    ] as const) {
      expect(await isLeft(code)).toBe('true');
      await take(remedy);
      await until(async () => (await isLeft(code)) === 'false', `${code} to be mended`);
    }
    await close();
  });

  it('that is tilted is levelled', async () => {
    const ground = changed((rgba, width, height) => {
      for (let i = (width * height) / 2; i < width * height; i++) rgba.set([300, 260, 200, 1], i * 4);
    });
    await bringImage('tilted.exr', levelled(ground, { tiltDeg: -6, towardsDeg: 80 }));
    await page.getByText(/Its horizon is tilted by [56]\.\d deg/).waitFor();
    await take('Level the horizon');
    expect(await isLeft('tilted-horizon')).toBe('false');
    await close();
  });

  it('of eight bits is read as linear or expanded, with a sun', async () => {
    const ldr = cutAt(calibrated(whole, lux(whole) * (0.25 / 5000)), 1);
    const bytes = new Uint8Array(ldr.width * ldr.height * 3);
    for (let i = 0; i < bytes.length; i++) bytes[i] = Math.round(255 * encodeSrgb(ldr.rgba[Math.floor(i / 3) * 4 + (i % 3)]!));
    const png = await sharp(bytes, { raw: { width: ldr.width, height: ldr.height, channels: 3 } })
      .png()
      .toBuffer();
    await bring('snap.png', png);
    await page.getByText(/PNG, 512 × 256, 8 bits, sRGB, LDR/).waitFor();
    await take('Read as linear');
    await page.getByText(/PNG, 512 × 256, 8 bits, linear, LDR/).waitFor();
    await page.getByRole('button', { name: 'Read as linear', exact: true }).click();
    await page.getByText(/8 bits, sRGB, LDR/).waitFor();
    await take('Expand to HDR, with a sun');
    expect(await isLeft('ldr')).toBe('false');
    await close();
  });

  it('of an arbitrary scale is set to a level', async () => {
    await bringImage('dim.exr', calibrated(whole, 12));
    await page.getByText(/would give level ground 12 lx/).waitFor();
    await take('Set its level');
    await page.getByText(/60\u2009000 lx on level ground/).waitFor();
    expect(await isLeft('too-dark')).toBe('false');
    await close();
  });
});

describe('a sky image in use', () => {
  const skies = async () => (await (await fetch(`${address}/api/projects/${page.url().split('/').pop()}/skies`)).json()) as SkyImageView[];
  const held = async () => {
    await desk.saved();
    return ((await (await fetch(`${address}/api/projects/${page.url().split('/').pop()}`)).json()) as { rig: Rig }).rig.cues[0]!.holds;
  };

  it('lights the level with its sky alone, and is warned of where two suns would shine', async () => {
    const before = await meanColor(page);
    await bringImage('evening.exr', whole);
    await page.getByText('Nothing is wrong with it.').waitFor();
    await page.getByRole('checkbox', { name: /its sun/ }).click();
    await page.getByRole('button', { name: /^Use in/ }).click();
    await page.getByText('Two suns').waitFor();
    await until(async () => Math.max(...(await meanColor(page)).map((v, i) => Math.abs(v - before[i]!))) > 2, 'the picture to change');
    expect((await held()).image).toMatchObject({ sun: 'left', yawDeg: 0, level: { by: 'itself' } });
  });

  it('gives its sun to the cue, and neither is counted twice', async () => {
    await page.getByRole('button', { name: 'make it the cue’s' }).click();
    await page.getByText('Two suns').waitFor({ state: 'detached' });
    const { sun } = (await skies()).find((i) => i.fileName === 'evening.exr')!;
    expect((await held()).sun!.azimuthDeg).toBeCloseTo(210, 0);
    expect((await held()).sun!.illuminanceLux! / sun!.lux).toBeCloseTo(1, 2);
  });

  it('gives sky, sun and exposure in one step, which one undo takes back', async () => {
    const before = await held();
    await desk.leave();
    await page.keyboard.press('Control+z');
    await page.getByText('Two suns').waitFor();
    await page.getByRole('button', { name: 'use all three' }).click();
    await page.getByText('Two suns').waitFor({ state: 'detached' });
    const { image, sun, exposure } = await held();
    expect(image!.sun).toBe('taken');
    expect(sun!.illuminanceLux).toBeCloseTo(before.sun!.illuminanceLux!, -2);
    expect(exposure!.lowEv).toBe(exposure!.highEv);
    await desk.leave();
    await page.keyboard.press('Control+z');
    await page.getByText('Two suns').waitFor();
    await page.keyboard.press('Control+Shift+z');
    await page.getByText('Two suns').waitFor({ state: 'detached' });
  });

  it('is turned until its sun stands over the cue’s, and set as strong as the air', async () => {
    await desk.set('Azimuth', '100');
    await page.getByRole('button', { name: 'until its sun stands over the cue’s' }).click();
    await until(async () => Math.abs(Number(await desk.field('Yaw').inputValue()) - 250) < 1.5, 'the image to be turned');
    await page.getByTitle('As strong as the sky that the air gives').click();
    expect((await held()).image!.level).toEqual({ by: 'air' });
    await settled(page);
  });

  it('is not deleted while a cue holds it, and the cue goes back to the air', async () => {
    const { id } = (await skies()).find((i) => i.fileName === 'evening.exr')!;
    const answer = await fetch(`${address}/api/projects/${page.url().split('/').pop()}/skies/${id}`, { method: 'DELETE' });
    expect(answer.status).toBe(409);
    await page.getByTitle('Computed from the air').click();
    expect((await held()).image).toBeUndefined();
  });

  it('clouds come over the air, and dim the level in the same picture', async () => {
    await settled(page);
    const openGround = async () => {
      await settled(page);
      return Number(/([\d.]+) EV/.exec(await page.getByText(/Open ground would be/).innerText())![1]);
    };
    const [clear, picture] = [await openGround(), await meanColor(page)];
    await desk.unfold('Clouds');
    await page.getByRole('button', { name: 'Add clouds' }).click();
    await desk.set('Cover', '1');
    await desk.set('Thickness', '40');
    await page.getByText('none: the sky alone').waitFor();
    expect(await openGround()).toBeLessThan(clear - 1.5);
    const clouded = await meanColor(page);
    expect(Math.max(...clouded.map((v, i) => Math.abs(v - picture[i]!)))).toBeGreaterThan(5);
    await page.getByRole('button', { name: 'Remove them' }).click();
    expect(await openGround()).toBeCloseTo(clear, 1);
    expect(Math.abs((await meanColor(page))[1] - picture[1])).toBeLessThan(2);
  });

  it('is painted, and so is the light it gives', async () => {
    await page.getByText('Gradient', { exact: true }).click();
    await page.getByRole('switch', { name: 'Paint the ambient light' }).click();
    const up = desk.field('Up light');
    const own = await up.inputValue();
    expect(Number(own.replace(/[^\d.]/g, ''))).toBeGreaterThan(5000);
    const before = await meanColor(page);
    await up.fill('1500');
    await up.press('Enter');
    await settled(page);
    const dark = await meanColor(page);
    expect(luminance(dark)).toBeLessThan(luminance(before));
    expect((await held()).sky!.facing!.up.illuminanceLux).toBe(1500);
    await page.getByTitle('Computed from the air').click();
  });

  it('had no error on the page', () => {
    expect(studio.faults).toEqual([]);
  });
});
