import { zipSync } from 'fflate';
import sharp from 'sharp';
import { quadDocument, type Quad } from '../../tests/lib/level';
import { levelIo, prepareLevel, readLevel } from './index';

const floor: Quad = { name: 'floor', corner: [0, 0, 0], along: [0, 0, 2], up: [2, 0, 0] };
const layout = { texelsPerM: 4, maxMapSize: 256 };

/** A level as a .gltf with a buffer and a picture beside it, by their paths. */
async function separate(): Promise<Record<string, Uint8Array>> {
  const document = quadDocument([floor]);
  const png = await sharp({ create: { width: 4, height: 4, channels: 3, background: '#c08040' } })
    .png()
    .toBuffer();
  document
    .getRoot()
    .listMaterials()[0]!
    .setBaseColorTexture(document.createTexture('Brick wall').setImage(png).setMimeType('image/png').setURI('tex/Brick wall.png'));
  document.getRoot().listBuffers()[0]!.setURI('level.bin');
  const { json, resources } = await (await levelIo()).writeJSON(document, { basename: 'level' });
  // As files write a name with a space.
  json.images![0]!.uri = 'tex/Brick%20wall.png';
  return { 'level.gltf': new TextEncoder().encode(JSON.stringify(json)), 'level.bin': resources['level.bin']!, 'tex/Brick wall.png': png };
}
const moved = (files: Record<string, Uint8Array>, name: (path: string) => string) =>
  Object.fromEntries(Object.entries(files).map(([path, bytes]) => [name(path), bytes]));

describe('a level with its files in an archive', () => {
  it.each<[string, (path: string) => string]>([
    ['as they lie', (p) => p],
    ['within a folder', (p) => `Export/${p}`],
    ['one by one, without their folders', (p) => p.split('/').pop()!],
    ['in letters of another size', (p) => (p.endsWith('.gltf') ? p : p.toUpperCase())],
  ])('is read: %s', async (_, name) => {
    const { summary } = await prepareLevel(await readLevel(zipSync(moved(await separate(), name))), layout);
    expect(summary).toMatchObject({ triangles: 2, textures: 1, left: { textures: [] } });
  });

  it('comes in without a picture that is missing, which is said; a missing buffer is refused by its name', async () => {
    const { 'tex/Brick wall.png': picture, ...rest } = await separate();
    expect(picture).toBeDefined();
    const { summary } = await prepareLevel(await readLevel(zipSync(rest)), layout);
    expect(summary.textures).toBe(0);
    expect(summary.left!.textures).toHaveLength(1);
    const { 'level.bin': buffer, ...without } = await separate();
    expect(buffer!.length).toBeGreaterThan(0);
    await expect(readLevel(zipSync(without))).rejects.toThrow('refers to another file, "level.bin", which did not come with it');
    await expect(readLevel(without['level.gltf']!)).rejects.toThrow('which did not come with it');
  });

  it('may be a .glb, and is one level alone', async () => {
    const glb = await (await levelIo()).writeBinary(quadDocument([floor]));
    expect((await prepareLevel(await readLevel(zipSync({ 'a.glb': glb })), layout)).summary.triangles).toBe(2);
    await expect(readLevel(zipSync({ 'a.glb': glb, 'b.glb': glb }))).rejects.toThrow('holds 2 levels: a.glb, b.glb');
    await expect(readLevel(zipSync({ 'readme.txt': new Uint8Array([65]) }))).rejects.toThrow('holds no .glb and no .gltf');
  });
});
