// What a start leaves word of, so that another one over the same data finds it running, or clears away what a kill -9 left.
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';

/** How long a server that runs may take to answer, and a supervisor to end, ms. */
const ANSWERS_MS = 10_000;
const ENDS_MS = 10_000;

/** When a process began, in the kernel's own count; null where there is none. A number may be given again, its beginning not. */
export function begun(pid) {
  try {
    // The name of the process, in brackets, may hold anything; the 22nd field counts after it.
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    return stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19] ?? null;
  } catch {
    return null;
  }
}

/** The process that a process was started by; null where there is none. */
const parentOf = (pid) => {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    return Number(stat.slice(stat.lastIndexOf(')') + 2).split(' ')[1]);
  } catch {
    return null;
  }
};

const isAlive = ({ pid, began }) => Number.isInteger(pid) && began !== null && begun(pid) === began;

/** The word of the last start over a data folder; null where there is none that can be read. */
function lastRun(file) {
  try {
    const { supervisor, address, children } = JSON.parse(readFileSync(file, 'utf8'));
    return { supervisor: supervisor ?? {}, address: address ?? null, children: children ?? [] };
  } catch {
    return null;
  }
}

/** Calls `gone` once npm, which runs this process through a shell, is there no more; does nothing where npm did not start it. */
export function followNpm(gone) {
  if (!process.env.npm_lifecycle_event) return;
  const chain = [process.ppid, parentOf(process.ppid)].filter((pid) => pid > 1).map((pid) => ({ pid, began: begun(pid) }));
  const timer = setInterval(() => {
    if (chain.every(isAlive)) return;
    clearInterval(timer);
    gone();
  }, 500).unref();
}

async function answers(address) {
  const until = Date.now() + ANSWERS_MS;
  while (Date.now() < until) {
    try {
      // Whatever it says: its database may be on its way back.
      await fetch(`${address}/api/health`, { signal: AbortSignal.timeout(2000) });
      return true;
    } catch {
      // not yet
    }
    await pause(300);
  }
  return false;
}

async function ended(process_) {
  for (const until = Date.now() + ENDS_MS; Date.now() < until; await pause(100)) if (!isAlive(process_)) return true;
  return false;
}

/** Signals a process; one that ended meanwhile needs none. */
function signal(pid, name) {
  try {
    process.kill(pid, name);
  } catch (error) {
    if (error.code !== 'ESRCH') throw error;
  }
}

/** The file that tells of a start over a data folder. */
export const runFileOf = (data) => join(data, 'run.json');

/** Leaves word of this start. */
export function remember(file, address, pids) {
  const own = (pid) => ({ pid, began: begun(pid) });
  writeFileSync(file, JSON.stringify({ supervisor: own(process.pid), address, children: pids.filter(Boolean).map(own) }));
}

/**
 * Makes room for a start over a data folder: where one runs and answers there, its address is the outcome (null while it is still starting), and
 * nothing is touched; what does not answer is ended, and what a killed one left behind as well.
 *
 * @returns `{ running: true, address }`, or `{ running: false }`
 */
export async function makeRoom(file, say = console.log) {
  if (!existsSync(file)) return { running: false };
  const last = lastRun(file);
  if (last && isAlive(last.supervisor) && last.supervisor.pid !== process.pid) {
    if (last.address === null || (await answers(last.address))) return { running: true, address: last.address };
    say(`Basil runs at ${last.address} and does not answer; ending it and taking over ...`);
    signal(last.supervisor.pid, 'SIGTERM');
    if (!(await ended(last.supervisor))) signal(last.supervisor.pid, 'SIGKILL');
  }
  for (const child of last?.children ?? []) if (isAlive(child)) signal(child.pid, 'SIGKILL');
  rmSync(file, { force: true });
  return { running: false };
}
