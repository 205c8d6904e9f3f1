import { domeView } from './domeView';

/** A panorama whose upper half is red towards the north, green east, blue south, grey west; its zenith rows white; its ground black. */
function panorama(width = 64, height = 32) {
  const data = new Uint8ClampedArray(width * height * 4);
  const sides = [
    [255, 0, 0],
    [0, 255, 0],
    [0, 0, 255],
    [90, 90, 90],
  ];
  for (let y = 0; y < height / 2; y++) {
    for (let x = 0; x < width; x++) {
      const azimuth = (((x + 0.5) / width) * 360 - 180 + 360) % 360;
      const rgb = y < 2 ? [255, 255, 255] : sides[Math.floor(((azimuth + 45) % 360) / 90)]!;
      data.set([...rgb, 255], (y * width + x) * 4);
    }
  }
  return { width, height, data };
}

describe('the dome from above', () => {
  const size = 80;
  const view = domeView(panorama(), size);
  const at = (dx: number, dy: number) => {
    const [x, y] = [Math.floor(((dx + 1) / 2) * size), Math.floor(((1 - dy) / 2) * size)];
    return [...view.slice((y * size + x) * 4, (y * size + x) * 4 + 4)];
  };

  it('has its zenith in the middle and its bearings around', () => {
    expect(at(0, 0)).toEqual([255, 255, 255, 255]);
    expect(at(0, 0.8)).toEqual([255, 0, 0, 255]);
    expect(at(0.8, 0)).toEqual([0, 255, 0, 255]);
    expect(at(0, -0.8)).toEqual([0, 0, 255, 255]);
    expect(at(-0.8, 0)).toEqual([90, 90, 90, 255]);
  });

  it('shows no ground, and nothing outside its rim', () => {
    expect(at(0, 0.97)).toEqual([255, 0, 0, 255]);
    expect(at(0.9, 0.9)).toEqual([0, 0, 0, 0]);
  });

  it('gives equal areas to equal solid angles: half of the disc lies over 30 degrees', () => {
    const half = domeView(
      { width: 4, height: 180, data: new Uint8ClampedArray(4 * 180 * 4).map((_, i) => (i < 4 * 60 * 4 ? 255 : 0)) },
      200,
    );
    let [over, all] = [0, 0];
    for (let i = 0; i < half.length; i += 4) {
      if (half[i + 3] === 0) continue;
      all++;
      if (half[i] === 255) over++;
    }
    expect(over / all).toBeCloseTo(0.5, 2);
  });
});
