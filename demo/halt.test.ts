import { readFileSync } from 'node:fs';
import { readLevel, readSurfaces } from '../core/level';
import { checkRig, resolveCue } from '../core/rig';
import { tamariskHalt } from './halt';
import { FINISHES } from './materials';
import { iesFile, iesFiles } from './profiles';
import { haltRig } from './rig';
import { writeHalt } from './writeHalt';

describe('Tamarisk Halt', () => {
  const { list } = tamariskHalt();

  it('is made of named parts, each name once, each in a finish that there is', () => {
    expect(list.length).toBeGreaterThan(80);
    expect(new Set(list.map((p) => p.name)).size).toBe(list.length);
    for (const { finish } of list) expect(FINISHES[finish]).toBeDefined();
  });

  it('is written the same every time, and reads back as a level of as many objects with finite places', async () => {
    const bytes = await writeHalt();
    expect(Buffer.from(await writeHalt()).equals(Buffer.from(bytes))).toBe(true);
    const surfaces = await readSurfaces(await readLevel(bytes));
    expect(surfaces.positions.every((v) => Number.isFinite(v))).toBe(true);
    expect(surfaces.indices.length / 3).toBeGreaterThan(50_000);
    expect(Math.max(...surfaces.indices.subarray(-3000))).toBeLessThan(surfaces.positions.length / 3);
  }, 120_000);

  it('comes with IES files that are written the same every time', () => {
    for (const { id, text } of iesFiles()) expect(readFileSync(iesFile(id), 'utf8')).toBe(text);
  });

  it('comes with a rig that is valid and has five cues over the day, the last by the moon, and three of seldom weather', () => {
    const rig = checkRig(haltRig());
    expect(rig.cues.filter((c) => c.kind === 'timed').map((c) => c.name)).toEqual([
      'Loading the camels',
      'White noon',
      'Long shadows',
      'Lanterns lit',
      'Moon watch',
    ]);
    expect(rig.cues.filter((c) => c.kind === 'free').map((c) => c.name)).toEqual(['Dust wall', 'Cistern flood', 'Frost morning']);
    const kinds = rig.cues.map((c) => resolveCue(rig, c).suns[0]?.kind);
    expect(kinds.slice(0, 3)).toEqual(['sun', 'sun', 'sun']);
    expect(kinds[4]).toBe('moon');
  });
});
