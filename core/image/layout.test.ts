import { zipSync } from 'fflate';
import { FACES, faceOfName, pixelDirection, type Face, type Panorama } from '../sky';
import { DEG, type Vec3 } from '../units';
import { unzipFiles } from './unzipFiles';
import { inspectSky } from './inspectSky';
import { faceOf, findLayout, fromFaces, toPanorama, type ImageLayout } from './layout';
import { readSkyImage } from './readSky';
import { writeExr } from '../exr';

/** A smooth sky that is another in each direction. */
const radiance = ([x, y, z]: Vec3): Vec3 => [2 + x + 0.3 * y * z, 2 + y + 0.3 * x * z, 2 + z + 0.3 * x * y];
const EDGE = 64;

const painted = (width: number, height: number, colorOf: (x: number, y: number) => Vec3 | null): Panorama => {
  const rgba = new Float32Array(width * height * 4);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) rgba.set([...(colorOf(x, y) ?? [0, 0, 0]), 1], (y * width + x) * 4);
  return { width, height, rgba };
};

/** Direction that a place of a face looks in: u to the right, v up, written down by hand. */
const LOOKS: Record<Face, (u: number, v: number) => Vec3> = {
  front: (u, v) => [u, v, -1],
  right: (u, v) => [1, v, u],
  back: (u, v) => [-u, v, 1],
  left: (u, v) => [-1, v, -u],
  up: (u, v) => [u, 1, v],
  down: (u, v) => [u, -1, -v],
};
const unit = (d: Vec3): Vec3 => d.map((v) => v / Math.hypot(...d)) as Vec3;
const onFace = (face: Face, x: number, y: number): Vec3 => unit(LOOKS[face](((x + 0.5) / EDGE) * 2 - 1, 1 - ((y + 0.5) / EDGE) * 2));

/** The known sky in a layout of faces: by column and row of each. */
const laid = (columns: number, rows: number, where: Partial<Record<string, [Face, turned?: boolean]>>): Panorama =>
  painted(columns * EDGE, rows * EDGE, (x, y) => {
    const cell = where[`${Math.floor(x / EDGE)} ${Math.floor(y / EDGE)}`];
    if (!cell) return null;
    const [face, turned] = cell;
    const [i, j] = [x % EDGE, y % EDGE];
    return radiance(turned ? onFace(face, EDGE - 1 - i, EDGE - 1 - j) : onFace(face, i, j));
  });
const SKIES: Record<Exclude<ImageLayout, 'panorama'>, Panorama> = {
  cross: laid(4, 3, { '1 0': ['up'], '0 1': ['left'], '1 1': ['front'], '2 1': ['right'], '3 1': ['back'], '1 2': ['down'] }),
  'tall cross': laid(3, 4, { '1 0': ['up'], '0 1': ['left'], '1 1': ['front'], '2 1': ['right'], '1 2': ['down'], '1 3': ['back', true] }),
  strip: laid(6, 1, Object.fromEntries(FACES.map((face, i) => [`${i} 0`, [face]]))),
  'tall strip': laid(1, 6, Object.fromEntries(FACES.map((face, i) => [`0 ${i}`, [face]]))),
  dome: painted(256, 256, (x, y) => {
    const [dx, dy] = [128 - x - 0.5, y + 0.5 - 128];
    const r = Math.hypot(dx, dy) / 127.5;
    if (r > 1) return null;
    const [rise, level] = [Math.cos(r * 90 * DEG), Math.sin(r * 90 * DEG)];
    const length = Math.hypot(dx, dy) || 1;
    return radiance([(dx / length) * level, rise, (dy / length) * level]);
  }),
};

/** The largest miss of a panorama against the known sky, over a horizon or everywhere. */
function missOf({ width, height, rgba }: Panorama, lowest = -1): number {
  let miss = 0;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const d = pixelDirection(x, y, width, height);
      if (d[1] > lowest) radiance(d).forEach((v, c) => (miss = Math.max(miss, Math.abs(v - rgba[(y * width + x) * 4 + c]!))));
    }
  }
  return miss;
}

describe('how a sky lies on an image', () => {
  it.each(Object.keys(SKIES) as (keyof typeof SKIES)[])('is found, and brought to the same panorama: %s', (layout) => {
    expect(findLayout(SKIES[layout])).toBe(layout);
    const panorama = toPanorama(SKIES[layout], layout);
    expect(panorama.width).toBe(panorama.height * 2);
    // Half a pixel of a face is 1/64 of its edge.
    expect(missOf(panorama, layout === 'dome' ? 0.02 : -1)).toBeLessThan(0.03);
  });

  it('of six images is the same', () => {
    const faces = Object.fromEntries(FACES.map((face) => [face, painted(EDGE, EDGE, (x, y) => radiance(onFace(face, x, y)))]));
    expect(missOf(fromFaces(faces as Record<Face, Panorama>))).toBeLessThan(0.03);
    for (const face of FACES) expect(faceOf(onFace(face, 10, 50)).face).toBe(face);
  });

  describe('of six files', () => {
    const exr = (edge: number, of: (x: number, y: number) => Vec3) => {
      const { rgba } = painted(edge, edge, of);
      return writeExr(rgba, edge, edge);
    };
    const files = async (names: Record<Face, string>) =>
      Object.fromEntries(
        await Promise.all(FACES.map(async (face) => [names[face], await exr(EDGE, (x, y) => radiance(onFace(face, x, y)))] as const)),
      ) as Record<string, Uint8Array>;
    const CUBE = { right: 'px', left: 'nx', up: 'py', down: 'ny', front: 'pz', back: 'nz' };

    it('packed together is the same panorama, and is said so', async () => {
      const names = Object.fromEntries(FACES.map((face) => [face, `skies/dusk_${CUBE[face]}.exr`])) as Record<Face, string>;
      const packed = zipSync({ ...(await files(names)), '__MACOSX/skies/._dusk_px.exr': new Uint8Array(9) });
      const read = await readSkyImage(packed, 'dusk.zip');
      expect(missOf(read.image)).toBeLessThan(0.03);
      expect(read).toMatchObject({ layout: 'files', format: 'exr', isHdr: true, file: { width: 6 * EDGE, height: EDGE } });
      expect(inspectSky(read).problems.find((p) => p.code === 'other-layout')!.text).toContain('six files, a face each');
    });

    it('are told apart by the ends of their names', () => {
      expect(['Sky-Top.png', 'a/b/nz.hdr', 'sky_posx.exr', 'evening front.jpg', 'sky.5.png', 'sky_LF.png'].map(faceOfName)).toEqual([
        'up',
        'back',
        'right',
        'front',
        'back',
        'left',
      ]);
      expect(['rooftop.png', 'layout.png', 'sky.exr', '15.png'].map(faceOfName)).toEqual([null, null, null, null]);
    });

    it('that are not six faces of one size are refused in words', async () => {
      const good = await files(Object.fromEntries(FACES.map((face) => [face, `${face}.exr`])) as Record<Face, string>);
      const { 'up.exr': up, ...five } = good;
      const read = (of: Record<string, Uint8Array>) => readSkyImage(zipSync(of), 'sky.zip');
      await expect(read(five)).rejects.toThrow('six images; there are 5');
      await expect(read({ ...five, 'ceiling.exr': up! })).rejects.toThrow('ceiling.exr does not say which face');
      await expect(read({ ...five, 'py.exr': up!, 'up.exr': up! })).rejects.toThrow('there are 7');
      await expect(read({ ...five, 'px.exr': up! })).rejects.toThrow('right.exr and px.exr are both the right face');
      await expect(read({ ...five, 'up.exr': await exr(32, () => [1, 1, 1]) })).rejects.toThrow('up.exr, the up face, is 32 x 32');
      await expect(readSkyImage(zipSync(good).subarray(0, 4000), 'sky.zip')).rejects.toThrow('sky.zip is a damaged zip archive');
      expect(() => unzipFiles(zipSync(good), 'sky.zip', 50_000)).toThrow('unpacks to more than');
    });
  });

  it('is a panorama where nothing speaks for another, whatever its sides', () => {
    const full = (width: number, height: number) =>
      painted(width, height, (x, y) => [2 + Math.sin(x / 40), 2 + Math.cos(y / 30), 2 + Math.sin((x + y) / 50)]);
    for (const [w, h] of [
      [256, 128],
      [400, 300],
      [300, 400],
      [200, 200],
      [384, 64],
      [64, 384],
    ] as const)
      expect(findLayout(full(w, h))).toBe('panorama');
  });

  it('is said in words as a file is read, and a wrong one too', async () => {
    const { rgba, width, height } = SKIES.cross;
    const read = await readSkyImage(await writeExr(rgba, width, height), 'sky.exr');
    expect(read.image).toMatchObject({ width: 256, height: 128 });
    expect(read.file).toEqual({ width: 256, height: 192 });
    const { problems } = inspectSky(read);
    expect(problems.find((p) => p.code === 'other-layout')!.text).toBe('It is six faces in a cross of 4 x 3, and was brought to 2:1.');
    expect(problems.some((p) => p.code === 'not-two-to-one')).toBe(false);
    const picture = painted(400, 300, (x, y) => [1 + Math.sin(x), 1 + Math.cos(y), 1]);
    const wrong = inspectSky(await readSkyImage(await writeExr(picture.rgba, 400, 300), 'picture.exr'));
    expect(wrong.problems.find((p) => p.code === 'not-two-to-one')!.text).toContain(
      'no cross of six faces: where one is empty, this is not',
    );
  });
});
