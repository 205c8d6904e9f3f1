import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser, Page } from 'playwright-core';
import { openBrowser } from '../../bin/lib/openBrowser';
import { deskOf } from './desk';
import { quadLevel, type Quad } from './level';

/** Where npm runs all that needs it. */
const ROOT = process.cwd();

export interface Application {
  address: string;
  data: string;
  /** Of the start itself. */
  pid: number;
  /** All that it has printed. */
  printed(): string;
  /** Ends it as Ctrl-C does; answers its exit code. */
  stop(): Promise<number | null>;
  /** Kills it and all it started without a word. */
  kill(): Promise<void>;
}

/** Starts Basil as `npm start` does, on a data folder of its own, and waits for its address. */
export async function startApplication(args: string[], data = mkdtempSync(join(tmpdir(), 'basil-app-'))): Promise<Application> {
  const child = spawn(process.execPath, ['bin/start.mjs', '--data', data, ...args], {
    cwd: ROOT,
    env: { ...process.env, NODE_OPTIONS: '', NODE_ENV: 'production' },
    detached: true,
  });
  let text = '';
  child.stdout.on('data', (part) => (text += part));
  child.stderr.on('data', (part) => (text += part));
  const exited = new Promise<number | null>((done) => child.once('exit', (code) => done(code)));
  const address = await new Promise<string>((resolve, reject) => {
    const look = setInterval(() => {
      const found = /Basil is at (\S+)/.exec(text);
      if (found) resolve(found[1]!);
      if (found || child.exitCode !== null) clearInterval(look);
      if (!found && child.exitCode !== null) reject(new Error(`Basil did not start:\n${text}`));
    }, 50);
  });
  return {
    address,
    data,
    pid: child.pid!,
    printed: () => text,
    stop: () => {
      child.kill('SIGINT');
      return exited;
    },
    async kill() {
      child.kill('SIGKILL');
      await exited;
    },
  };
}

export const removeData = (data: string) => rmSync(data, { recursive: true, force: true });

export { openBrowser };

/** The address of the application that browser tests share: "npm test" starts it for them. */
export function sharedAddress(): string {
  const address = process.env.BASIL_TEST_APP;
  if (!address) throw new Error('Browser tests are run by "npm test", which starts the application for them.');
  return address;
}

/** The shared application, and a page of a browser to drive it by. */
export interface InBrowser {
  address: string;
  page: Page;
  desk: ReturnType<typeof deskOf>;
  /** Errors on the page. */
  faults: string[];
  close(): Promise<void>;
}

/**
 * A page of the size that people work at, drawn with a quarter of its pixels: a picture in software takes most of a browser test's time.
 *
 * @param scale pixels for each of the layout's, each way
 */
export async function openPage(browser: Browser, scale = 0.5): Promise<Page> {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, deviceScaleFactor: scale });
  page.setDefaultTimeout(120_000);
  return page;
}

/** Opens the studio on a level, once it is shown. */
export async function openInBrowser(name: string, quads: Quad[], scale?: number): Promise<InBrowser> {
  return openProjectOf(name, Buffer.from(await quadLevel(quads)), scale);
}

/** Opens the studio on a level's file, once it is shown. */
export async function openProjectOf(name: string, file: Buffer, scale?: number): Promise<InBrowser> {
  const address = sharedAddress();
  const browser = await openBrowser();
  const page = await openPage(browser, scale);
  const faults: string[] = [];
  page.on('pageerror', (error) => faults.push(error.message));
  await bringFile(address, page, name, file);
  return {
    address,
    page,
    desk: deskOf(page),
    faults,
    async close() {
      await browser.close();
    },
  };
}

/** Brings a level in, and waits until it is shown. */
export async function bringLevel(address: string, page: Page, name: string, quads: Quad[]): Promise<void> {
  await bringFile(address, page, name, Buffer.from(await quadLevel(quads)));
}

async function bringFile(address: string, page: Page, name: string, buffer: Buffer): Promise<void> {
  await page.goto(address);
  await page.setInputFiles('input[type=file]', { name, mimeType: 'model/gltf-binary', buffer });
  await page.waitForURL(/\/projects\//, { timeout: 360_000 });
  await settled(page);
  await framedWhole(page);
}

/** Drops a file anywhere on a page. */
export const dropFile = (page: Page, name: string, file: Buffer): Promise<unknown> =>
  page.evaluate(
    ([called, bytes]) => {
      const data = new DataTransfer();
      data.items.add(new File([Uint8Array.from(atob(bytes), (c) => c.charCodeAt(0))], called));
      window.dispatchEvent(new DragEvent('drop', { dataTransfer: data, bubbles: true, cancelable: true }));
    },
    [name, file.toString('base64')] as const,
  );

/** Has a project looked at whole, from outside, in place of where a person would stand. */
export async function framedWhole(page: Page): Promise<void> {
  await page.keyboard.press('Shift+H');
  await settled(page);
  await page.keyboard.press('v');
  await deskOf(page).saved();
  await settled(page);
}

/** Waits until the picture shows all it is to show. */
export async function settled(page: Page, seconds = 240): Promise<void> {
  const twoFrames = () => page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))));
  // What was just asked for is known to the page two frames later, and what was drawn is on screen.
  await twoFrames();
  await page.waitForSelector('[data-testid="picture"][data-settled="true"]', { timeout: seconds * 1000 });
  await twoFrames();
}

/** Mean colour of the middle of the picture, 0..255 each. */
export async function meanColor(page: Page): Promise<[number, number, number]> {
  await settled(page);
  const png = await page.locator('[data-testid="picture"] canvas').screenshot();
  const { default: sharp } = await import('sharp');
  const { channels } = await sharp(png).stats();
  return channels.slice(0, 3).map((c) => c.mean) as [number, number, number];
}
