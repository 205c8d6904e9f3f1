import { inspectSky, readSkyImage, type SkyReport } from '../core/image';
import { DEMO_SKIES } from './skies';

const reports = new Map<string, SkyReport>();
beforeAll(async () => {
  for (const { fileName, make } of DEMO_SKIES) reports.set(fileName, inspectSky(await readSkyImage(make(), fileName)));
});
const report = (name: string) => reports.get(name)!;

describe('the skies that come with Basil', () => {
  it('are whole where they should be, with the light of what they show', () => {
    for (const name of ['clear_forenoon.hdr', 'broken_clouds.hdr']) expect(report(name).problems).toEqual([]);
    expect(report('clear_forenoon.hdr').illuminanceLux).toBeGreaterThan(40_000);
    expect(report('clear_forenoon.hdr').sun!.lux).toBeGreaterThan(60_000);
    expect(report('moonlit_night.hdr').problems).toEqual([]);
    expect(report('moonlit_night.hdr').illuminanceLux).toBeLessThan(1);
    expect(report('moonlit_night.hdr').illuminanceLux).toBeGreaterThan(0.01);
  });

  it('have one that is faulty on purpose, in the three ways that the guide mends', () => {
    const codes = report('faulty_on_purpose.hdr').problems.map((p) => p.code);
    expect(codes).toEqual(expect.arrayContaining(['clipped-sun', 'seam', 'black-ground']));
  });
});
