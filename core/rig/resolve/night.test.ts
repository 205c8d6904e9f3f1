import { moonIlluminance } from '../../almanac';
import { airMass, angularRadiance, horizontalIlluminance, skyHarmonics, starFrame, zenithDepth, type Panorama } from '../../sky';
import { DEG, luminance, type Vec3 } from '../../units';
import {
  DEFAULT_IMAGE,
  airById,
  checkRig,
  defaultRig,
  holdBody,
  releaseBody,
  resolveCue,
  resolveHour,
  setLook,
  setPart,
  type Rig,
} from '../index';

/** A rig in which it is deep night, its one cue at an hour when the sun is far down. */
function nightRig(change: (rig: Rig) => void = () => undefined): Rig {
  const rig = defaultRig();
  rig.cues = [{ ...rig.cues[0]!, hour: 0.5, kind: 'timed' }];
  rig.place.date = '2026-12-09';
  change(rig);
  return checkRig(rig);
}
const only = (rig: Rig) => resolveCue(rig, rig.cues[0]!);
const skyLux = (rig: Rig) => luminance(horizontalIlluminance(skyHarmonics(only(rig).sky)));

describe('a moon that is held', () => {
  it('gives its lux on a plane that faces it, from where it is held, and is shown with that light', () => {
    const rig = nightRig((r) =>
      holdBody(r, r.cues[0]!.id, 'moon', { azimuthDeg: 140, elevationDeg: 35, illuminanceLux: 0.8, litShare: 0.4, colorK: 6000 }),
    );
    const { suns, discs } = only(rig);
    expect(suns[0]).toMatchObject({ kind: 'moon', azimuthDeg: 140, elevationDeg: 35 });
    expect(luminance(suns[0]!.illuminance) / 0.8).toBeCloseTo(1, 4);
    expect(discs[0]!.litShare).toBe(0.4);
    expect(luminance(discs[0]!.illuminance) / 0.8).toBeCloseTo(1, 4);
    expect(suns[0]!.stems).toEqual([{ cueId: rig.cues[0]!.id, share: 1 }]);
  });

  it('has the light of its phase where its strength is not held (Krisciunas & Schaefer 1991)', () => {
    const at = (litShare: number) =>
      luminance(
        only(nightRig((r) => holdBody(r, r.cues[0]!.id, 'moon', { azimuthDeg: 0, elevationDeg: 60, litShare }))).suns[0]!.illuminance,
      );
    expect(at(0.5) / at(1)).toBeCloseTo(moonIlluminance(90) / moonIlluminance(0), 6);
  });

  it('is blended with the day’s moon between cues, and let go of value by value', () => {
    const rig = nightRig((r) => {
      holdBody(r, r.cues[0]!.id, 'moon', { illuminanceLux: 2, litShare: 0.3 });
      r.cues.push({ ...structuredClone(r.cues[0]!), id: 'later', name: 'Later', hour: 4.5 });
      holdBody(r, 'later', 'moon', { illuminanceLux: 4 });
      holdBody(r, r.cues[0]!.id, 'moon', { azimuthDeg: 100, elevationDeg: 40 });
      holdBody(r, 'later', 'moon', { azimuthDeg: 100, elevationDeg: 40 });
    });
    const moon = resolveHour(rig, 2.5).suns.find((s) => s.kind === 'moon')!;
    expect(luminance(moon.illuminance)).toBeCloseTo(3, 3);
    expect(moon.elevationDeg).toBeCloseTo(40, 3);
    releaseBody(rig, 'later', 'moon', 'azimuthDeg');
    expect(rig.cues[1]!.holds.moon).not.toHaveProperty('azimuthDeg');
    releaseBody(rig, 'later', 'moon');
    expect(rig.cues[1]!.holds).not.toHaveProperty('moon');
  });
});

describe('how a body is seen', () => {
  const held = (look: Parameters<typeof setLook>[3]) =>
    only(
      nightRig((r) => {
        holdBody(r, r.cues[0]!.id, 'moon', { azimuthDeg: 140, elevationDeg: 35, illuminanceLux: 0.8 });
        setLook(r, r.cues[0]!.id, 'moon', look);
      }),
    );

  it('may be without its light, and its light without it', () => {
    const unlit = held({ lights: false });
    expect(unlit.suns).toEqual([]);
    expect(luminance(unlit.discs[0]!.illuminance)).toBeCloseTo(0.8, 4);
    const unseen = held({ seen: false });
    expect(luminance(unseen.suns[0]!.illuminance)).toBeCloseTo(0.8, 4);
    expect(unseen.discs).toEqual([]);
  });

  it('may have another disc than its shadows, and a halo that takes its light from the disc', () => {
    const { suns, discs } = held({ discDeg: 3, halo: 0.25, haloDeg: 4, haloColor: '#ff8040' });
    expect(suns[0]!.discDeg).toBeCloseTo(0.53, 1);
    expect(discs[0]!.discDeg).toBe(3);
    expect(luminance(discs[0]!.illuminance)).toBeCloseTo(0.6, 4);
    expect(luminance(discs[0]!.halo!.illuminance)).toBeCloseTo(0.2, 4);
    expect(discs[0]!.halo!.sizeDeg).toBe(4);
  });

  it('goes on a path of its own, or stands', () => {
    const rig = nightRig((r) => {
      const body = { kind: 'moon' as const, discDeg: 1, colorK: 5000, illuminanceLux: 0.5 };
      const drawn = { riseH: 20, highestH: 1, setH: 6, highestDeg: 50, bearingDeg: 200 };
      r.day.others = [
        { ...body, id: 'a', name: 'A', path: { by: 'still', azimuthDeg: 33, elevationDeg: 21 } },
        { ...body, id: 'b', name: 'B', path: { by: 'own', drawn } },
      ];
      r.cues[0]!.hour = 1;
    });
    const bodies = only(rig).suns;
    expect(bodies.some((s) => s.azimuthDeg === 33 && s.elevationDeg === 21)).toBe(true);
    expect(bodies.some((s) => Math.abs(s.elevationDeg - 50) < 0.01 && Math.abs(s.azimuthDeg - 200) < 0.01)).toBe(true);
  });
});

describe('the sky of the night', () => {
  it('is raised alone: the moon’s light stays, and so does the day', () => {
    const moonlit = (r: Rig) => holdBody(r, r.cues[0]!.id, 'moon', { azimuthDeg: 140, elevationDeg: 35, illuminanceLux: 0.8 });
    const plain = nightRig(moonlit);
    const raised = nightRig((r) => {
      moonlit(r);
      setPart(r, { cueId: r.cues[0]!.id }, 'night', { skyEv: 3 });
    });
    expect(skyLux(raised) / skyLux(plain)).toBeCloseTo(8, 3);
    expect(only(raised).suns).toEqual(only(plain).suns);
    const noon = (skyEv: number) => {
      const rig = defaultRig();
      rig.night.skyEv = skyEv;
      return luminance(horizontalIlluminance(skyHarmonics(only(rig).sky)));
    };
    expect(noon(3)).toBe(noon(0));
  });

  it('glows as it is told, and its stars are as bright as they are told', () => {
    const rig = nightRig((r) => {
      r.night.glowCdM2 = 0.02;
      r.night.starsEv = 2;
      holdBody(r, r.cues[0]!.id, 'moon', { elevationDeg: -30 });
    });
    const up = new Float64Array(3);
    angularRadiance(only(rig).sky)(0, 80 * DEG, up);
    expect(luminance([up[0]!, up[1]!, up[2]!]) / 0.02).toBeCloseTo(1, 1);
    expect(only(rig).stars.weight).toBe(4);
  });
});

describe('an image behind the air', () => {
  const [width, height] = [64, 32];
  /** Darkness with one bright square near the equator of the stars. */
  const image: Panorama = { width, height, rgba: new Float32Array(width * height * 4).fill(0) };
  for (let y = 14; y < 18; y++) for (let x = 30; x < 34; x++) image.rgba.fill(0.004, (y * width + x) * 4, (y * width + x) * 4 + 3);
  const imageId = '00000000-0000-4000-8000-000000000001';
  const images = new Map([[imageId, { whole: image, rest: null }]]);
  const starry = (hour: number) => {
    const rig = nightRig((r) => {
      r.cues[0]!.hour = hour;
      r.cues[0]!.holds.image = { ...DEFAULT_IMAGE, imageId, behind: true };
      holdBody(r, r.cues[0]!.id, 'moon', { elevationDeg: -30 });
    });
    return { rig, lighting: resolveCue(rig, rig.cues[0]!, images) };
  };
  const along = (sky: Parameters<typeof angularRadiance>[0], d: Vec3) => {
    const out = new Float64Array(3);
    angularRadiance(sky)(Math.atan2(d[0], -d[2]), Math.asin(d[1]), out);
    return out[1]!;
  };
  /** Where the middle of the square stands in the level. */
  const squareAt = ({ stars }: ReturnType<typeof resolveCue>): Vec3 => {
    const frame = starFrame(stars);
    // The frame's third row looks towards +Z; the square lies towards -Z.
    return [0, 1, 2].map((c) => -frame[2][c]!) as Vec3;
  };

  it('stands over the air as it is in the image, dimmed by the air alone, and its own stars are not drawn besides', () => {
    let seen = 0;
    for (let hour = 0; hour < 24; hour += 1) {
      const { rig, lighting } = starry(hour % 24);
      const d = squareAt(lighting);
      const sun = resolveCue(rig, { ...rig.cues[0]!, holds: {} }).suns.some((s) => s.kind === 'sun');
      if (sun || d[1] < 0.2) continue;
      const air = along(
        lighting.sky.filter((p) => p.sky.kind === 'air'),
        d,
      );
      const depth = zenithDepth(airById(rig, rig.airId).air, rig.place.heightM)[1]!;
      expect(along(lighting.sky, d) - air).toBeCloseTo(0.004 * Math.exp(-depth * airMass(Math.asin(d[1]) / DEG)), 7);
      expect(lighting.stars.weight).toBe(0);
      seen++;
    }
    expect(seen).toBeGreaterThan(2);
  });

  it('is lost in the sky at noon', () => {
    const { lighting } = starry(12.5);
    const parts = (kind: string) => lighting.sky.filter((p) => p.sky.kind === kind);
    for (let i = 0; i < 40; i++) {
      const d: Vec3 = [Math.sin(i) * 0.7, 0.714, Math.cos(i) * 0.7];
      expect(along(parts('behind'), d)).toBeLessThan(along(parts('air'), d) * 1e-4);
    }
    expect(parts('behind')).toHaveLength(1);
  });

  it('turns about the pole by 15.04 degrees an hour', () => {
    const [a, b] = [squareAt(starry(1).lighting), squareAt(starry(2).lighting)];
    const latitude = starry(1).rig.place.latitudeDeg * DEG;
    const pole: Vec3 = [0, Math.sin(latitude), -Math.cos(latitude)];
    const dot = (x: Vec3, y: Vec3) => x[0] * y[0] + x[1] * y[1] + x[2] * y[2];
    expect(dot(a, pole)).toBeCloseTo(0, 9);
    expect(Math.acos(dot(a, b)) / DEG).toBeCloseTo(15.0411, 3);
    // Towards the west: from the south, clockwise as seen from above.
    expect(a[0] * b[2] - a[2] * b[0]).toBeGreaterThan(0);
  });
});
