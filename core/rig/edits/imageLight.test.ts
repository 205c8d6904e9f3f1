import { DEFAULT_BANDS, checkRig, defaultRig, exposureOfImage, holdImage, lightByImage, takeImageSun, yawToSun, type Cue } from '..';

const [FIRST, SECOND] = ['0b8f0f63-3c8e-4a52-9b6c-1d7b5c1f2a10', '1c9f0f63-3c8e-4a52-9b6c-1d7b5c1f2a11'];
const SUN = { azimuthDeg: 210, elevationDeg: 35.2, lux: 90_000, kelvin: 5321.4 };

function cueWith(change: (cue: Cue) => void): Cue {
  const rig = defaultRig();
  change(rig.cues[0]!);
  // Whatever is held must be what a rig may hold.
  return checkRig(rig).cues[0]!;
}

describe('giving a cue an image', () => {
  it('takes the place of a painted sky, as it is', () => {
    const { holds } = cueWith((c) => {
      c.holds.sky = DEFAULT_BANDS;
      holdImage(c, { id: FIRST });
    });
    expect(holds.sky).toBeUndefined();
    expect(holds.image).toMatchObject({ imageId: FIRST, yawDeg: 0, level: { by: 'itself' }, saturation: 1, sun: 'left' });
  });

  it('keeps what the cue has set when another image takes its place', () => {
    const { holds } = cueWith((c) => {
      holdImage(c, { id: FIRST });
      Object.assign(c.holds.image!, { yawDeg: 77, level: { by: 'lux', lux: 9000 }, tint: '#ffeedd' });
      holdImage(c, { id: SECOND });
    });
    expect(holds.image).toMatchObject({ imageId: SECOND, yawDeg: 77, level: { by: 'lux', lux: 9000 }, tint: '#ffeedd' });
  });
});

describe('taking the sun of an image', () => {
  it.each([
    [0, 210],
    [90, 300],
    [200, 50],
  ])('turned by %f degrees gives the cue a sun at %f', (yawDeg, azimuthDeg) => {
    const { holds } = cueWith((c) => {
      holdImage(c, { id: FIRST });
      c.holds.image!.yawDeg = yawDeg;
      takeImageSun(c, SUN, 0.5);
    });
    expect(holds.image!.sun).toBe('taken');
    expect(holds.sun).toEqual({ azimuthDeg, elevationDeg: 35.2, illuminanceLux: 45_000, colorK: 5321 });
  });

  it('keeps the disc that the cue holds, and the air’s colour where the sun has no temperature', () => {
    const { holds } = cueWith((c) => {
      c.holds.sun = { discDeg: 2 };
      holdImage(c, { id: FIRST });
      takeImageSun(c, { ...SUN, kelvin: null }, 1);
    });
    expect(holds.sun).toEqual({ discDeg: 2, azimuthDeg: 210, elevationDeg: 35.2, illuminanceLux: 90_000 });
  });
});

describe('turning an image to the sun', () => {
  it.each([
    [210, 0],
    [100, 250],
    [0, 150],
    [359.5, 149.5],
  ])('that stands at %f turns it by %f', (azimuthDeg, yawDeg) => {
    expect(yawToSun(SUN, azimuthDeg)).toBe(yawDeg);
    // Its sun then stands there.
    expect((SUN.azimuthDeg + yawDeg) % 360).toBeCloseTo(azimuthDeg, 9);
  });
});

describe('lighting a cue by an image', () => {
  const image = { id: FIRST, illuminanceLux: 80_000, sun: SUN };

  it('takes its sky, its sun and an exposure, and counts no sun twice', () => {
    const { holds } = cueWith((c) => {
      holdImage(c, { id: SECOND });
      c.holds.image!.level = { by: 'lux', lux: 5 };
      lightByImage(c, image, { sun: true, exposure: true });
    });
    expect(holds.image).toMatchObject({ imageId: FIRST, sun: 'taken', level: { by: 'itself' } });
    expect(holds.sun).toMatchObject({ azimuthDeg: 210, illuminanceLux: 90_000 });
    // 80 000 lx is 15 EV and a third to an incident-light meter (C = 250).
    expect(exposureOfImage(image)).toBeCloseTo(15, 0);
    expect(holds.exposure).toEqual({ lowEv: exposureOfImage(image), highEv: exposureOfImage(image), biasEv: 0 });
  });

  it('puts the sun of the cue out where the image has none, and takes no more than is wanted', () => {
    const dull = cueWith((c) => lightByImage(c, { ...image, sun: null }, { sun: true, exposure: false }));
    expect(dull.holds.sun).toEqual({ illuminanceLux: 0 });
    const sky = cueWith((c) => {
      delete c.holds.exposure;
      lightByImage(c, image, { sun: false, exposure: false });
    });
    expect(sky.holds).toMatchObject({ image: { sun: 'left' } });
    expect([sky.holds.sun, sky.holds.exposure]).toEqual([undefined, undefined]);
  });
});
