import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Document, Extension } from '@gltf-transform/core';
import { KHRDracoMeshCompression, EXTMeshoptCompression } from '@gltf-transform/extensions';
import { strToU8, zipSync } from 'fflate';
import sharp from 'sharp';
import { NEUTRAL_GRADE, NO_CDL, gradeLut, gradeNow, writeCdl, writeCube } from '../../core/grade';
import { writeExr } from '../../core/image';
import { levelIo } from '../../core/level';
import { writeHdr } from '../../core/rgbe';
import { defaultRig } from '../../core/rig';
import { iesText } from '../lib/ies';
import { quadDocument, room } from '../lib/level';
import { lampWith } from '../lib/lamps';

export type FileKind = 'level' | 'sky' | 'profile' | 'cdl' | 'lut' | 'rig';

/** A file that is read well as it is. */
export interface SampleFile {
  kind: FileKind;
  name: string;
  bytes: Uint8Array;
}

const [WIDTH, HEIGHT] = [64, 32];

/** A sky with a bright spot, from dark to very bright. */
const pixels = Float32Array.from({ length: WIDTH * HEIGHT * 4 }, (_, i) => {
  const [x, y, c] = [(i >> 2) % WIDTH, Math.floor((i >> 2) / WIDTH), i & 3];
  return c === 3 ? 1 : 200 + 100 * c + (x === 20 && y === 8 ? 1e6 : 0) + (y < 16 ? 3000 : 100) * Math.abs(Math.sin(x * 0.31));
});

/** OpenEXR in every compression, written by another tool; that tool is one of those that "npm test" sees to. */
async function exrFiles(): Promise<SampleFile[]> {
  const folder = mkdtempSync(join(tmpdir(), 'basil-fuzz-'));
  try {
    const ours = await writeExr(pixels, WIDTH, HEIGHT);
    writeFileSync(join(folder, 'ours.exr'), ours);
    const names = ['none', 'rle', 'zip', 'zips', 'piz', 'pxr24', 'b44', 'dwaa', 'dwab'];
    const written = names.flatMap((name) => ['-d', 'half', '--compression', name, '-o', join(folder, `${name}.exr`)]);
    execFileSync('oiiotool', [join(folder, 'ours.exr'), ...written]);
    return names.map((name) => ({ kind: 'sky', name: `${name}.exr`, bytes: new Uint8Array(readFileSync(join(folder, `${name}.exr`))) }));
  } finally {
    rmSync(folder, { recursive: true });
  }
}

const eightBits = () =>
  sharp(
    Uint8Array.from({ length: WIDTH * HEIGHT * 3 }, (_, i) => 60 + ((i * 7) % 190)),
    { raw: { width: WIDTH, height: HEIGHT, channels: 3 } },
  );

async function texturedRoom(): Promise<Document> {
  const document = quadDocument(room(0, 3, { albedo: 0.5 }));
  const image = new Uint8Array(await eightBits().png().toBuffer());
  const texture = document.createTexture('Plaster').setImage(image).setMimeType('image/png');
  for (const material of document.getRoot().listMaterials()) material.setBaseColorTexture(texture);
  return document;
}

async function levelFiles(): Promise<SampleFile[]> {
  const io = await levelIo();
  const compressed = (extension: (document: Document) => Extension) => {
    const document = quadDocument(room(0, 3, { albedo: 0.5 }));
    extension(document).setRequired(true);
    return io.writeBinary(document);
  };
  const glb = await io.writeBinary(await texturedRoom());
  const { json, resources } = await io.writeJSON(await texturedRoom());
  const files = Object.fromEntries(Object.entries(resources));
  for (const part of [...(json.buffers ?? []), ...(json.images ?? [])])
    if (part.uri) part.uri = `data:application/octet-stream;base64,${Buffer.from(files[part.uri]!).toString('base64')}`;
  const packed = await io.writeJSON(await texturedRoom());
  return [
    { kind: 'level', name: 'textured.glb', bytes: glb },
    { kind: 'level', name: 'draco.glb', bytes: await compressed((d) => d.createExtension(KHRDracoMeshCompression)) },
    { kind: 'level', name: 'meshopt.glb', bytes: await compressed((d) => d.createExtension(EXTMeshoptCompression)) },
    { kind: 'level', name: 'embedded.gltf', bytes: strToU8(JSON.stringify(json)) },
    {
      kind: 'level',
      name: 'packed.zip',
      bytes: zipSync({ 'level.gltf': strToU8(JSON.stringify(packed.json)), ...packed.resources }),
    },
  ];
}

/** Sample files of every kind that Basil takes. */
export async function sampleFiles(): Promise<SampleFile[]> {
  const rig = { ...defaultRig(), lamps: [lampWith({ id: 'one', at: [0, 2, 0] })] };
  return [
    ...(await levelFiles()),
    ...(await exrFiles()),
    { kind: 'sky', name: 'ours.hdr', bytes: writeHdr(pixels, WIDTH, HEIGHT) },
    { kind: 'sky', name: 'eight.png', bytes: new Uint8Array(await eightBits().png().toBuffer()) },
    { kind: 'sky', name: 'sixteen.png', bytes: new Uint8Array(await eightBits().toColourspace('rgb16').png().toBuffer()) },
    { kind: 'sky', name: 'eight.jpg', bytes: new Uint8Array(await eightBits().jpeg().toBuffer()) },
    {
      kind: 'profile',
      name: 'spot.ies',
      bytes: strToU8(iesText({ vertical: [0, 30, 60, 90], horizontal: [0, 90], candela: (v) => 100 * (90 - v) })),
    },
    { kind: 'cdl', name: 'grade.cdl', bytes: strToU8(writeCdl({ ...NO_CDL, saturation: 0.8 }, 'one')) },
    { kind: 'lut', name: 'grade.cube', bytes: strToU8(writeCube(gradeLut(gradeNow(NEUTRAL_GRADE, [1, 1, 1]), 14, 5, 'one'))) },
    { kind: 'rig', name: 'rig.json', bytes: strToU8(JSON.stringify(rig)) },
  ];
}
