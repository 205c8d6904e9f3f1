// The pictures of the README and the docs, from the demo: npm run pictures [-- ADDRESS [NAME ...]]
// ADDRESS is a Basil with the demo baked; without one, Basil is started on data of its own and bakes it first.
import sharp from 'sharp';
import type { ProjectCard, SkyImageView } from '../core/api';
import { writeExr } from '../core/image';
import { computedSky } from '../demo/computedSky';
import { dropFile, removeData, startApplication } from '../tests/lib/application';
import { bakesAt } from '../tests/lib/bakes';
import { until } from '../tests/lib/wait';
import { openBrowser } from './lib/openBrowser';
import { studioPage, type StudioPage } from './lib/studioPage';

const TO = 'docs/screenshots';
const DEMO = 'Tamarisk Halt';
/** How long the small pictures of a shelf take to be drawn by software, s. */
const SHELF_S = 40;

interface Page {
  stand(studio: StudioPage): Promise<void>;
  /** Leaves the studio as the next picture expects it. */
  leave?(studio: StudioPage): Promise<void>;
}

const keys =
  (...pressed: string[]) =>
  async ({ key }: StudioPage) => {
    for (const one of pressed) await key(one);
  };

/** Pictures of the whole page, by their files' names. */
const PAGES: Record<string, Page> = {
  'studio-long-shadows': { stand: keys('3', 'f') },
  'studio-cue-table': { stand: keys('3', 'f', 'e'), leave: keys('e') },
  'studio-calls': {
    async stand(studio) {
      await keys('1', 'f')(studio);
      await studio.section('Courses over the day');
      await studio.section('Calls');
      await studio.page.getByRole('button', { name: 'Rehearse' }).click();
      await studio.page.getByRole('button', { name: 'Fire: Storm' }).click();
      // Its fade is under way.
      await studio.page.waitForTimeout(4000);
    },
    async leave({ page, settled }) {
      await page.getByRole('button', { name: 'End the rehearsal' }).click();
      await settled();
    },
  },
  'studio-weather': {
    async stand({ key, section, page, settled }) {
      await key('7');
      await section('Weather');
      await page.getByRole('switch', { name: 'Show each in the present view' }).first().click();
      // They are drawn one after another, while nothing else is.
      await page.waitForTimeout(SHELF_S * 1000);
      await settled();
    },
    leave: ({ page }) => page.getByRole('switch', { name: 'Show each in the present view' }).first().click(),
  },
  'studio-fog-volume': {
    async stand(studio) {
      await keys('2', 'Alt+3')(studio);
      await studio.section('Fog volumes');
    },
  },
  // The image is deleted again.
  'studio-sky-image': {
    async stand({ key, page, settled }) {
      await key('2');
      await key('Alt+1');
      const { image } = computedSky(1024, (_, cue) => void (cue.hour = 7.5));
      await dropFile(page, 'Morning over the upland.exr', Buffer.from(await writeExr(image.rgba, image.width, image.height)));
      await page.getByRole('group', { name: 'What the cue takes of it' }).waitFor({ timeout: 240_000 });
      await settled();
    },
    async leave({ page, settled }) {
      await page.getByRole('button', { name: 'Close the sky image' }).click();
      const skies = `${page.url().replace('/projects/', '/api/projects/')}/skies`;
      for (const { id, name } of (await (await fetch(skies)).json()) as SkyImageView[])
        if (name.startsWith('Morning over the upland')) await fetch(`${skies}/${id}`, { method: 'DELETE', headers: { origin: at } });
      await settled();
    },
  },
  'studio-vantages': {
    async stand({ key, page }) {
      await key('8');
      await page.getByRole('button', { name: /^View/ }).click();
      await page.locator('section[aria-label="Vantages"] li button').nth(3).click();
    },
    leave: ({ page }) => page.keyboard.press('Escape'),
  },
  'studio-lamps': { stand: keys('4', 'l') },
  'studio-fixture': {
    async stand({ key, page, settled }) {
      await key('4');
      await key('l');
      await page.locator('aside').getByText('Lantern 2', { exact: true }).first().click();
      await settled();
      await key('o');
    },
    leave: keys('o'),
  },
  'studio-dimmer-plan': { stand: keys('4', 'p'), leave: keys('p') },
  'studio-plan': {
    async stand({ key, page, settled }) {
      await key('4');
      await key('l');
      await key('t');
      await page.getByRole('group', { name: 'Plan view' }).getByText('cut').click();
      await settled();
    },
    leave: keys('t'),
  },
  'studio-bake': { stand: keys('2', 'Alt+1', 'g') },
  'studio-compare': { stand: keys('1', 'r'), leave: ({ key }) => key('f') },
  // What is edited for it is undone; the bake of the opening stays.
  'studio-openings': {
    async stand(studio) {
      const { page, desk, section, settled } = studio;
      await keys('6', 'g')(studio);
      await desk.choose('Gate leaves');
      await page.locator('aside').getByText('hidden', { exact: true }).click();
      await page.getByRole('switch', { name: 'Opening', exact: true }).click();
      await desk.saved();
      await section('Openings');
      const bake = page.getByRole('button', { name: 'Bake openings' });
      if (await bake.isVisible()) await bake.click();
      await page
        .locator('aside')
        .getByText(/^baked: \d+ objects?$/)
        .waitFor({ timeout: 600_000 });
      await section('Objects');
      await settled();
    },
    async leave({ key }) {
      for (let k = 0; k < 2; k++) await key('Control+z');
    },
  },
  'studio-grade': { stand: keys('3', 'c') },
  // The bake is cancelled again.
  'studio-bake-at-work': {
    async stand(studio) {
      await keys('2', 'Alt+1', 'g')(studio);
      await studio.page.getByRole('button', { name: 'Bake everything' }).click();
      await studio.page.getByText(/: [3-9] of \d+ parts of the lightmaps are done/).waitFor({ timeout: 600_000 });
      // It does not come to rest before the bake is done.
      await studio.page.waitForTimeout(1500);
    },
    async leave({ page }) {
      await page.locator('aside').getByRole('button', { name: 'Cancel', exact: true }).click();
      await page.getByText('bake up to date').waitFor();
    },
  },
};

/** Hours of the strip of one view through the day. */
const HOURS = [5.9, 7.1, 10, 12.5, 16.6, 17.1, 19.5, 1];

const [address, ...wanted] = process.argv.slice(2);
const own = address ? null : await startApplication([]);
const at = address ?? own!.address;
const isWanted = (name: string) => wanted.length === 0 || wanted.includes(name);
const browser = await openBrowser();
try {
  const project = await bakedDemo();
  const pages = Object.entries(PAGES).filter(([file]) => isWanted(file));
  if (pages.length > 0) {
    const studio = await opened(project, 1280, 800);
    for (const [name, { stand, leave }] of pages) {
      await stand(studio);
      await studio.page.mouse.move(640, 4);
      await studio.page.screenshot({ path: `${TO}/${name}.png` });
      await leave?.(studio);
      console.log(`${TO}/${name}.png`);
    }
    await studio.page.close();
  }
  if (isWanted('cues')) await sheet('cues', 4, 480, await cuePictures(project));
  if (isWanted('day')) await sheet('day', 4, 400, await dayPictures(project));
  if (isWanted('shelf')) {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(at);
    await page.getByText(DEMO).first().waitFor();
    await page.waitForTimeout(1500);
    await page.screenshot({ path: `${TO}/shelf.png` });
    console.log(`${TO}/shelf.png`);
  }
} finally {
  await browser.close();
  await own?.stop();
  if (own) removeData(own.data);
}

/** The id of the demo, once its light is baked as its rig is. */
async function bakedDemo(): Promise<string> {
  let id = '';
  await until(
    async () => {
      const cards = (await (await fetch(`${at}/api/projects`)).json()) as ProjectCard[];
      id = cards.find((card) => card.name === DEMO)?.id ?? '';
      if (!id) return false;
      const { done, atWork } = await bakesAt(at, id);
      return done !== null && atWork === null;
    },
    'the demo to be baked',
    1800,
  );
  return id;
}

async function opened(project: string, width: number, height: number): Promise<StudioPage> {
  const page = await browser.newPage({ viewport: { width, height } });
  await page.goto(`${at}/projects/${project}`);
  const studio = studioPage(page);
  await studio.settled();
  return studio;
}

function canvasOf({ page }: StudioPage): Promise<Buffer> {
  return page.locator('[data-testid="picture"] canvas').screenshot();
}

/** Every cue from its vantage. */
async function cuePictures(project: string): Promise<Buffer[]> {
  const studio = await opened(project, 1280, 800);
  await hideOverPicture(studio);
  const pictures: Buffer[] = [];
  const count = await studio.page.getByRole('navigation', { name: 'Cues' }).getByRole('button').count();
  for (let i = 1; i <= count; i++) {
    await studio.key(String(i));
    pictures.push(await canvasOf(studio));
  }
  await studio.page.close();
  return pictures;
}

/** One view at several hours. */
async function dayPictures(project: string): Promise<Buffer[]> {
  const studio = await opened(project, 1280, 800);
  await hideOverPicture(studio);
  await studio.key('Alt+1');
  const pictures: Buffer[] = [];
  for (const hour of HOURS) {
    await studio.desk.standAt(hour);
    await studio.settled();
    pictures.push(await canvasOf(studio));
  }
  await studio.page.close();
  return pictures;
}

/** Leaves the picture alone: what stands over it is not part of it. */
async function hideOverPicture({ page }: StudioPage): Promise<void> {
  await page.addStyleTag({ content: '[data-testid="picture"] > :not(canvas) { display: none }' });
}

/** Lays pictures side by side in one file. */
async function sheet(name: string, columns: number, width: number, pictures: Buffer[]): Promise<void> {
  const gap = 4;
  const small = await Promise.all(pictures.map((png) => sharp(png).resize(width).toBuffer()));
  const { height = 0 } = await sharp(small[0]).metadata();
  const rows = Math.ceil(small.length / columns);
  await sharp({
    create: { width: columns * (width + gap) - gap, height: rows * (height + gap) - gap, channels: 3, background: '#2b2b2b' },
  })
    .composite(small.map((input, i) => ({ input, left: (i % columns) * (width + gap), top: Math.floor(i / columns) * (height + gap) })))
    .png({ palette: true, quality: 90 })
    .toFile(`${TO}/${name}.png`);
  console.log(`${TO}/${name}.png`);
}
