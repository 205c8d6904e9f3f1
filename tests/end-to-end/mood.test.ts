import { lookThrough } from '../../core/fog';
import { NEUTRAL_GRADE, NO_CDL, gradedColor, writeCdl, type Grade } from '../../core/grade';
import {
  fogLightOf,
  openGroundLight,
  resolveCue,
  timedCue,
  type Cue,
  type FogSetting,
  type FogVolume,
  type Lighting,
} from '../../core/rig';
import { skyRadiance } from '../../core/sky';
import { directionFromAngles, whiteLuminance, type Rgb, type Vec3 } from '../../core/units';
import { openInBrowser, settled, type InBrowser } from '../lib/application';
import type { Quad } from '../lib/level';
import { pictureOf } from '../lib/picture';
import { oneVantage } from '../lib/vantage';

let { address, page, desk, faults, close } = {} as InBrowser;
let { project, store, middle } = {} as ReturnType<typeof pictureOf>;

const ALBEDO = 0.45;
/** A plain, with a post far to the side so that the level has a height. */
const plain: Quad[] = [
  { name: 'Ground', corner: [-60, 0, -60], along: [0, 0, 120], up: [120, 0, 0], albedo: ALBEDO },
  { name: 'Post', corner: [50, 0, 50], along: [0.4, 0, 0], up: [0, 2.5, 0], albedo: 0.3, doubleSided: true },
];

const FOG: Partial<FogSetting> = { visibilityM: 60, fallOffM: null, forward: 0.6, color: '#e8f0ff', mostHidden: 0.9 };
const GROUND_FOG: Partial<FogSetting> = { visibilityM: 40, baseM: 0.5, fallOffM: 6, overSky: 0.7 };
const GRADE: Partial<Grade> = {
  whiteBalance: { kelvin: 4800, tint: 5, adapt: 0.3 },
  cdl: { slope: [1.1, 1, 0.9], offset: [0.01, 0, -0.005], power: [1.05, 1, 0.95], saturation: 0.8 },
  zones: { ...NEUTRAL_GRADE.zones, shadows: { ev: 0.6, tint: '#c0d0ff' }, lights: { ev: -0.3, tint: '#ffffff' } },
  contrast: { amount: 1.15, pivot: 0.18 },
  curve: 'filmic',
};

const cue = (id: string, hour: number, ev: number, holds: Partial<Cue['holds']>): Cue => {
  const timed = timedCue(id.replace(' ', '-'), id, hour, ev);
  return { ...timed, fadeS: 0, holds: { ...timed.holds, ...holds } };
};
const CUES: Cue[] = [
  cue('clear', 9, 13, {}),
  cue('fog', 9.2, 13, { fog: FOG }),
  cue('ground fog', 9.4, 12, { fog: GROUND_FOG }),
  cue('graded', 9.6, 12.5, { grade: GRADE }),
  cue('both', 9.8, 12.5, { fog: { ...FOG, aerial: 1 }, grade: { ...GRADE, curve: 'aces' } }),
  cue('night', 1, -2, { grade: { nightVision: 1 }, fog: { visibilityM: 300, fallOffM: null } }),
  cue('cap', 9.85, 12, { fog: GROUND_FOG, weather: { snowLineM: 9, snowLineSoftM: 3, snowLineFog: 6 } }),
  cue('steam', 9.9, 13, { fog: FOG, volumes: {} }),
].map((own) => (own.holds.volumes ? own : { ...own, holds: { ...own.holds, volumes: { steam: 0 } } }));
/** A ball of steam before the eye. */
const steam = (at: Vec3): FogVolume => ({
  id: 'steam',
  name: 'Steam',
  shape: { kind: 'ball', radiusM: 2.5 },
  at,
  visibilityM: 8,
  softness: 0.5,
  color: '#ffe0c0',
});

/** What core shows of a radiance along a look, 0..255 each. */
function shown(lighting: Lighting, eye: Vec3, look: Vec3, distanceM: number, sent: Rgb): number[] {
  const { fog, grade, exposure } = lighting;
  const light = fogLightOf(lighting, eye, 8);
  const { through, scattered } = fog ? lookThrough(fog, light, eye, look, distanceM) : { through: [1, 1, 1], scattered: [0, 0, 0] };
  const white = whiteLuminance(exposure.lowEv);
  const scene = sent.map((v, c) => (v * through[c]! + scattered[c]!) / white) as Rgb;
  return gradedColor(grade, exposure.lowEv)(scene).map((v) => v * 255);
}

beforeAll(async () => {
  ({ address, page, desk, faults, close } = await openInBrowser('Plain.glb', plain));
  ({ project, store, middle } = pictureOf(page, address));
});
afterAll(async () => {
  await close();
});

/** Tolerance of the picture, of 255: it is drawn with half floats, and its sky from a table. */
const WITHIN = 5;

describe('the picture shows what core says', () => {
  it('of the sky and of the ground, through every fog and grade', async () => {
    const eye: Vec3 = [0, 6, 0];
    const missed: unknown[] = [];
    for (const [azimuthDeg, elevationDeg] of [
      [200, 14],
      [200, -20],
    ] as const) {
      const look = directionFromAngles(azimuthDeg, elevationDeg);
      const target = eye.map((v, c) => v + look[c]! * 5) as Vec3;
      const rig = await store((before) => ({
        ...before,
        place: { ...before.place, northDeg: 0 },
        airId: 'clear',
        volumes: [steam(target)],
        cues: CUES,
        vantages: oneVantage({ eye, target, fovDeg: 40 }),
      }));
      for (const [i, own] of CUES.entries()) {
        await desk.press(String(i + 1));
        const lighting = resolveCue(rig, own);
        const distanceM = look[1] < 0 ? -eye[1] / look[1] : Infinity;
        const { sun, sky } = openGroundLight(lighting);
        const sent = look[1] < 0 ? (sun.map((v, c) => ((v + sky[c]!) * ALBEDO) / Math.PI) as Rgb) : skyRadiance(lighting.skyOverFog)(look);
        const wanted = shown(lighting, eye, look, distanceM, sent);
        const seen = await middle();
        const off = Math.max(...seen.map((v, c) => Math.abs(v - wanted[c]!)));
        if (off >= WITHIN) missed.push({ cue: own.name, elevationDeg, seen, wanted });
      }
    }
    expect(missed).toEqual([]);
  });

  it('by no pass at all where there is neither fog nor grade, and says what each takes where there is', async () => {
    const costs = page.locator('[data-testid="picture-costs"]');
    await desk.press('1');
    await settled(page);
    expect(await costs.count()).toBe(0);
    await desk.press('2');
    await settled(page);
    expect(Number(await costs.getAttribute('data-fog'))).toBeGreaterThan(0);
    await desk.press('1');
    await settled(page);
    expect(await costs.count()).toBe(0);
  });
});

describe('fog on the desk', () => {
  it('is brought in for a cue, is stored, and the meter says what of a thing is seen through it', async () => {
    await desk.press('1');
    await desk.unfold('Fog');
    await page.getByRole('button', { name: 'Add fog' }).click();
    await desk.set('Visibility', '80');
    await desk.saved();
    const { rig } = await project();
    expect(rig.cues[0]!.holds.fog).toEqual({ visibilityM: 80 });
    expect(rig.fog.visibilityM).toBeNull();
    await desk.leave();
    const box = (await page.locator('[data-testid="picture"] canvas').boundingBox())!;
    await page.mouse.move(box.x + box.width / 2, box.y + box.height * 0.8);
    await page.getByText(/fog .* % seen, none past/).waitFor();
  });

  it('refuses a visibility of nothing with a word', async () => {
    await desk.set('Visibility', '0');
    await page.getByText(/Visibility goes from/).waitFor();
    await desk.field('Visibility').press('Escape');
    expect((await project()).rig.cues[0]!.holds.fog).toEqual({ visibilityM: 80 });
  });
});

describe('the Grade room', () => {
  it('has scopes that say how bright the ends of the picture are', async () => {
    await desk.leave();
    await page.keyboard.press('c');
    await page.getByText('darkest tenth').waitFor();
    await page.getByRole('img', { name: 'Hues of the picture' }).waitFor();
  });

  it('takes a list from a file, and says where the grade does what exposure should', async () => {
    await desk.unfold('Files');
    const list = { ...NO_CDL, slope: [3.25, 3.25, 3.25] as Rgb };
    await page
      .getByLabel('CDL file')
      .setInputFiles({ name: 'bright.cdl', mimeType: 'text/xml', buffer: Buffer.from(writeCdl(list, 'bright')) });
    await page.getByText('The grade lifts mid-grey by 1.7 EV').waitFor();
    await page.getByRole('button', { name: 'open the exposure' }).click();
    await desk.saved();
    const { rig } = await project();
    expect(rig.cues[0]!.holds.exposure!.lowEv).toBeCloseTo(13 - Math.log2(3.25), 3);
    expect(rig.cues[0]!.holds.grade!.cdl!.slope[0]).toBeCloseTo(1, 3);
  });

  it('refuses a file that is no list and changes nothing', async () => {
    const before = (await project()).rig;
    await page.getByLabel('CDL file').setInputFiles({ name: 'no.cdl', mimeType: 'text/xml', buffer: Buffer.from('<a/>') });
    await page.getByText(/holds no ColorCorrection/).waitFor();
    expect((await project()).rig).toEqual(before);
  });

  it('shows the picture without its grade by a key, and a part of it by another', async () => {
    await desk.leave();
    await desk.press('4');
    const graded = await middle();
    await desk.press('q');
    const bare = await middle();
    expect(Math.max(...graded.map((v, c) => Math.abs(v - bare[c]!)))).toBeGreaterThan(10);
    await desk.press('q');
    const again = await middle();
    expect(Math.max(...graded.map((v, c) => Math.abs(v - again[c]!)))).toBeLessThan(2);
    await page.getByRole('button', { name: 'ASC CDL in the picture' }).click();
    const without = await middle();
    expect(Math.max(...graded.map((v, c) => Math.abs(v - without[c]!)))).toBeGreaterThan(3);
    await page.getByRole('button', { name: 'ASC CDL in the picture' }).click();
    // Looking changes nothing that is stored.
    expect((await project()).rig.cues[3]!.holds.grade).toEqual(GRADE);
  });

  it('saves the grade as a table that says what goes in', async () => {
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Save a .cube' }).click();
    const file = await download;
    expect(file.suggestedFilename()).toBe('graded.cube');
    const stream = await file.createReadStream();
    const chunks: Buffer[] = [];
    for await (const chunk of stream) chunks.push(chunk as Buffer);
    const text = Buffer.concat(chunks).toString('utf8');
    expect(text).toMatch(/^# Grade of graded\. input = log2/);
    expect(faults).toEqual([]);
  });
});
