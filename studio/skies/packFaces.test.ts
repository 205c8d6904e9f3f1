import { unzipSync } from 'fflate';
import { FACES } from '../../core/sky';
import { packFaces, sharedName } from './packFaces';

describe('six files of a sky', () => {
  it('are one archive of their names and bytes, called by what their names share', async () => {
    const files = FACES.map((face, i) => new File([new Uint8Array([i, i + 1])], `dusk_sea_${face}.exr`));
    const packed = await packFaces(files);
    expect(packed.name).toBe('dusk_sea.zip');
    const content = unzipSync(new Uint8Array(await packed.arrayBuffer()));
    expect(Object.keys(content)).toEqual(FACES.map((face) => `dusk_sea_${face}.exr`));
    expect([...content['dusk_sea_front.exr']!]).toEqual([4, 5]);
  });

  it('are refused before anything is sent where they are not six faces', async () => {
    const named = (names: string[]) => names.map((name) => new File([], name));
    await expect(packFaces(named(['a.exr', 'b.exr']))).rejects.toThrow('there are 2');
    await expect(packFaces(named(['px.png', 'nx.png', 'py.png', 'ny.png', 'pz.png', 'sky.png']))).rejects.toThrow('sky.png does not say');
    expect([['right.hdr', 'left.hdr'], ['a 1_px.png', 'a 1_ny.png'], []].map(sharedName)).toEqual(['', 'a 1', '']);
  });
});
