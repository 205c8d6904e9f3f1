import { spawn, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, readdirSync } from 'node:fs';
import { get, type IncomingMessage } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser, Page } from 'playwright-core';
import type { ProjectView } from '../../core/api';
import { bringLevel, openBrowser, openPage, removeData, settled, startApplication, type Application } from '../lib/application';
import type { Quad } from '../lib/level';
import { until } from '../lib/wait';

let app: Application;
let browser: Browser;
let page: Page;
/** What a page was not let do. */
const refused: string[] = [];

beforeAll(async () => {
  app = await startApplication(['--no-demo', '--port', '4300']);
  browser = await openBrowser();
  page = await openPage(browser);
  page.on('console', (message) => /Content.Security.Policy/i.test(message.text()) && refused.push(message.text()));
  const ground: Quad = { name: 'Ground', corner: [-6, 0, -6], along: [0, 0, 12], up: [12, 0, 0], albedo: 0.5 };
  await bringLevel(app.address, page, 'Yard.glb', [ground]);
});
afterAll(async () => {
  await browser?.close();
  await app?.stop();
  if (app) removeData(app.data);
});

const openedProject = async () =>
  (await (await fetch(`${app.address}/api/projects/${page.url().split('/').pop()!}`)).json()) as ProjectView;

/** Processes that were started over a data folder: those that name it, or were told of it. */
const runningOver = (data: string) =>
  readdirSync('/proc').filter((pid) => {
    try {
      return /^\d+$/.test(pid) && ['cmdline', 'environ'].some((file) => readFileSync(`/proc/${pid}/${file}`, 'utf8').includes(data));
    } catch {
      return false;
    }
  });

describe('the start', () => {
  it('steps around a port in use', async () => {
    expect(app.printed()).toContain(app.address);
    expect(Number(new URL(app.address).port)).toBeGreaterThanOrEqual(4300);
  });

  it('finds that it runs already over the same data, says where, and leaves it alone', async () => {
    const second = spawnSync(process.execPath, ['bin/start.mjs', '--no-demo', '--data', app.data], { encoding: 'utf8', timeout: 360_000 });
    expect([second.status, second.stdout]).toEqual([0, expect.stringContaining(`Basil is at ${app.address}`)]);
    expect((await fetch(`${app.address}/api/health`)).status).toBe(200);
  });

  it('lets no other name read it, and says what its pages may run', async () => {
    const { port } = new URL(app.address);
    const asked = (path: string, host: string) =>
      new Promise<IncomingMessage>((done, fail) =>
        get({ host: '127.0.0.1', port, path, headers: { host } }, (response) => done(response.resume())).on('error', fail),
      );
    for (const path of ['/', '/api/projects']) {
      expect((await asked(path, `evil.example:${port}`)).statusCode).toBe(400);
      const own = await asked(path, `localhost:${port}`);
      expect(own.statusCode).toBe(200);
      expect(own.headers).toMatchObject({
        'x-content-type-options': 'nosniff',
        'referrer-policy': 'no-referrer',
        'x-frame-options': 'DENY',
      });
    }
    const policy = String((await asked('/', `127.0.0.1:${port}`)).headers['content-security-policy']);
    expect(policy).toMatch(/script-src 'self' 'nonce-[\w+/=]{20,}'/);
    expect(policy).toContain("frame-ancestors 'none'");
    expect(policy).not.toContain("'unsafe-eval'");
    // Nothing of what the pages did was against it.
    expect(refused).toEqual([]);
  });

  it('starts its database again when that is killed; the page says so, keeps what is changed, and goes on by itself', async () => {
    // As another page left it.
    await page.reload();
    await settled(page);
    const { revision } = await openedProject();
    const elevation = page.locator('aside input[aria-label^="Elevation"]').first();
    const database = Number(readFileSync(join(app.data, 'postgres', 'postmaster.pid'), 'utf8').split('\n')[0]);
    // Held, so that the page has the time to see the database away.
    process.kill(app.pid, 'SIGSTOP');
    try {
      process.kill(database, 'SIGKILL');
      await elevation.fill('52');
      await elevation.press('Enter');
      await page.getByTestId('server-trouble').getByText('database does not answer').waitFor({ timeout: 90_000 });
      await page.waitForSelector('[data-testid="saved"][data-saving="unreachable"]', { timeout: 90_000 });
    } finally {
      process.kill(app.pid, 'SIGCONT');
    }
    await page.waitForSelector('[data-testid="saved"][data-saving="saved"]', { timeout: 90_000 });
    expect(app.printed()).toContain('The database runs again.');
    const after = await openedProject();
    expect(after.revision).toBeGreaterThan(revision);
    expect(after.rig.cues.map((cue) => cue.holds.sun?.elevationDeg)).toContain(52);
    await page.getByTestId('server-trouble').waitFor({ state: 'detached', timeout: 90_000 });
  });

  it('recovers by itself from a kill -9 of all of it, and keeps everything', async () => {
    const before = (await (await fetch(`${app.address}/api/projects`)).json()) as { id: string }[];
    expect(before).toHaveLength(1);
    await app.kill();
    // What it had started ends with it.
    await until(() => Promise.resolve(runningOver(app.data).length === 0), 'the end of all processes', 10);
    const again = await startApplication(['--no-demo', '--port', '4300'], app.data);
    app = again;
    expect(await (await fetch(`${again.address}/api/projects`)).json()).toEqual(before);
    expect(again.printed()).not.toContain('Building');
  });

  it('ends with the npm that runs it, even where that is killed', async () => {
    const data = mkdtempSync(join(tmpdir(), 'basil-npm-'));
    const npm = spawn('npm', ['start', '--', '--no-demo', '--port', '4300', '--data', data], {
      env: { ...process.env, NODE_OPTIONS: '', NODE_ENV: 'production' },
      stdio: ['ignore', 'pipe', 'ignore'],
    });
    let printed = '';
    npm.stdout.on('data', (part) => (printed += part));
    await until(() => Promise.resolve(printed.includes('Basil is at')), 'the address');
    expect(runningOver(data).length).toBeGreaterThan(3);
    npm.kill('SIGKILL');
    await until(() => Promise.resolve(runningOver(data).length === 0), 'the end of all processes', 20);
    removeData(data);
  });

  it('ends in order at Ctrl-C', async () => {
    expect(await app.stop()).toBe(0);
    await expect(fetch(`${app.address}/api/health`)).rejects.toThrow();
  });
});
