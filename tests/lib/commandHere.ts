import { jest } from '@jest/globals';
import { commandLine } from '../../bin/commandLine';

/** Runs a command of the command line in this process, with a folder for its files: for those that are refused at once. */
export async function commandHere(folder: string, ...args: string[]): Promise<{ status: number; stdout: string; stderr: string }> {
  const before = process.env.INIT_CWD;
  const printed = { log: '', error: '' };
  const spies = (['log', 'error'] as const).map((to) =>
    jest.spyOn(console, to).mockImplementation((text: unknown) => void (printed[to] += `${String(text)}\n`)),
  );
  process.env.INIT_CWD = folder;
  try {
    const status = await commandLine(args);
    return { status, stdout: printed.log, stderr: printed.error };
  } finally {
    for (const spy of spies) spy.mockRestore();
    if (before === undefined) delete process.env.INIT_CWD;
    else process.env.INIT_CWD = before;
  }
}
