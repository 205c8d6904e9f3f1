import { spawn, type ChildProcess } from 'node:child_process';
import { createServer, type Server } from 'node:http';
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { AddressInfo } from 'node:net';

interface RunFile {
  begun(pid: number): string | null;
  runFileOf(data: string): string;
  remember(file: string, address: string | null, pids: (number | undefined)[]): void;
  makeRoom(file: string, say?: (text: string) => void): Promise<{ running: boolean; address?: string | null }>;
}

let run: RunFile;
let data: string;
const ended: ChildProcess[] = [];
beforeAll(async () => (run = (await import('./lib/runFile.mjs' as string)) as RunFile));
beforeEach(() => (data = mkdtempSync(join(tmpdir(), 'basil-run-'))));
afterEach(() => {
  for (const child of ended.splice(0)) child.kill('SIGKILL');
  rmSync(data, { recursive: true, force: true });
});

const sleeper = () => {
  const child = spawn(process.execPath, ['-e', 'setInterval(() => undefined, 1000)']);
  ended.push(child);
  return child;
};
const leave = (supervisor: object, address: string | null, children: object[] = []) =>
  writeFileSync(run.runFileOf(data), JSON.stringify({ supervisor, address, children }));
const of = (pid: number) => ({ pid, began: run.begun(pid) });
const gone = (child: ChildProcess) => new Promise<string | null>((done) => child.once('exit', (_, signal) => done(signal)));

describe('a start over data that another one may run on', () => {
  it('finds one that runs and answers, and touches nothing of it', async () => {
    const server: Server = createServer((_, response) => response.end('{}'));
    await new Promise<void>((listening) => server.listen(0, '127.0.0.1', listening));
    const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
    try {
      const [supervisor, child] = [sleeper(), sleeper()];
      leave(of(supervisor.pid!), address, [of(child.pid!)]);
      expect(await run.makeRoom(run.runFileOf(data))).toEqual({ running: true, address });
      expect([supervisor.exitCode, supervisor.signalCode, child.exitCode, child.signalCode]).toEqual([null, null, null, null]);
      expect(existsSync(run.runFileOf(data))).toBe(true);
    } finally {
      server.close();
    }
  });

  it('finds one that is still starting', async () => {
    leave(of(sleeper().pid!), null);
    expect(await run.makeRoom(run.runFileOf(data))).toEqual({ running: true, address: null });
  });

  it('ends one that does not answer, with a word', async () => {
    const [supervisor, child] = [sleeper(), sleeper()];
    const [first, second] = [gone(supervisor), gone(child)];
    // Nothing listens on the port of a server that was closed.
    leave(of(supervisor.pid!), 'http://127.0.0.1:9', [of(child.pid!)]);
    const said: string[] = [];
    expect(await run.makeRoom(run.runFileOf(data), (text) => said.push(text))).toEqual({ running: false });
    expect([await first, await second]).toEqual(['SIGTERM', 'SIGKILL']);
    expect(said.join()).toContain('does not answer');
    expect(existsSync(run.runFileOf(data))).toBe(false);
  });

  it('clears away what a killed one left, and no process that was given its number since', async () => {
    const [child, other] = [sleeper(), sleeper()];
    const end = gone(child);
    leave({ pid: 2 ** 22 - 1, began: '1' }, 'http://127.0.0.1:9', [of(child.pid!), { pid: other.pid!, began: '1' }]);
    expect(await run.makeRoom(run.runFileOf(data))).toEqual({ running: false });
    expect(await end).toBe('SIGKILL');
    expect([other.exitCode, other.signalCode]).toEqual([null, null]);
  });

  it('is not held up by a file that cannot be read', async () => {
    writeFileSync(run.runFileOf(data), '{ "supervisor": ');
    expect(await run.makeRoom(run.runFileOf(data))).toEqual({ running: false });
  });
});
