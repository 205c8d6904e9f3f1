import { packFiles, packedNames } from './packFiles';

describe('several files as one', () => {
  it('keep their paths, and are told by their names without being unpacked', async () => {
    const files = ['Court/level.gltf', 'Court/level.bin', 'Court/tex/a.png'].map((path) => ({ path, file: new File(['x'], path) }));
    const packed = await packFiles(files, 'level');
    expect(packed.name).toBe('level.zip');
    expect(await packedNames(packed)).toEqual(files.map((f) => f.path));
    expect(await packedNames(new File(['no archive'], 'a.zip'))).toEqual([]);
  });
});
