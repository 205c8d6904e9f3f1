import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Failure } from '../../core/units';
import { outFolder, writeOut } from './writeOut';

const folder = mkdtempSync(join(tmpdir(), 'basil-out-'));
afterAll(() => rmSync(folder, { recursive: true }));

const refused = async (work: Promise<void>) => {
  const error: unknown = await work.catch((e: unknown) => e);
  expect(error).toBeInstanceOf(Failure);
  return (error as Failure).sentence;
};

describe('what is written where someone asked for it', () => {
  it('is there', async () => {
    await outFolder(join(folder, 'a', 'b'));
    await writeOut(join(folder, 'a', 'b', 'c.txt'), 'text');
    expect(readFileSync(join(folder, 'a', 'b', 'c.txt'), 'utf8')).toBe('text');
  });

  it('is refused with why, where its place takes nothing', async () => {
    writeFileSync(join(folder, 'file'), '');
    expect(await refused(writeOut(join(folder, 'none', 'c.txt'), ''))).toMatch(
      /c\.txt cannot be written: its folder does not exist\. Make the folder/,
    );
    expect(await refused(writeOut(join(folder, 'file', 'c.txt'), ''))).toMatch(/a part of its path is a file/);
    expect(await refused(writeOut(folder, ''))).toMatch(/it is a folder/);
    expect(await refused(writeOut(join(folder, 'a'.repeat(300)), ''))).toMatch(/too long/);
    expect(await refused(outFolder(join(folder, 'file', 'in')))).toMatch(/a part of its path is a file/);
    expect(await refused(outFolder(join(folder, 'file')))).toMatch(/there is a file of that name/);
  });
});
