import { pixelsOf } from './pictureSize';

it('pictures that are saved have even edges in their shape', () => {
  expect(pixelsOf({ width: 1920, shape: '16:9' })).toEqual({ width: 1920, height: 1080 });
  expect(pixelsOf({ width: 3840, shape: '16:9' })).toEqual({ width: 3840, height: 2160 });
  expect(pixelsOf({ width: 101, shape: '4:3' })).toEqual({ width: 102, height: 76 });
  expect(pixelsOf({ width: 64, shape: '1:1' })).toEqual({ width: 64, height: 64 });
});
