import type { Db } from '../data';
import { RecentFiles } from './caches';

const noDatabase = new Proxy(
  {},
  {
    get: () => () => {
      throw new Error('asked the database');
    },
  },
) as unknown as Db;

describe('files at hand', () => {
  it('need no database until they are let go of, the oldest first when there are too many', async () => {
    const files = new RecentFiles(noDatabase, 100);
    const bytes = (size: number) => new Uint8Array(size).fill(size);
    files.keep('a', bytes(60));
    files.keep('b', bytes(30));
    expect(await files.read('a')).toEqual(bytes(60));
    files.keep('c', bytes(40));
    await expect(files.read('a')).rejects.toThrow('asked the database');
    expect(await files.read('b')).toEqual(bytes(30));
    files.keep('huge', bytes(101));
    await expect(files.read('huge')).rejects.toThrow('asked the database');
    expect(await files.read('c')).toEqual(bytes(40));
    files.clear();
    await expect(files.read('c')).rejects.toThrow('asked the database');
  });
});
