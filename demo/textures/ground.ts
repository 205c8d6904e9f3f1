import { fractal, noise } from '../random';
import { blend, paint, rise, shade } from './paint';

/** Trodden earth, 6 m a side: packed paths in loose sand, hoof prints, small stones. */
export const earth = () =>
  paint(1024, (x, y) => {
    const packed = rise(0.42, 0.6, fractal(x / 256, y / 256, 5, 4));
    const print = noise(x / 14.2, y / 14.2, 72);
    const dent = packed < 0.7 ? 1 - 0.16 * rise(0.72, 0.84, print) + 0.06 * rise(0.6, 0.7, print) : 1;
    const stone = noise(x / 5.12, y / 5.12, 200);
    const soil = shade(blend([206, 178, 136], [184, 154, 116], packed), (0.9 + 0.14 * fractal(x / 32, y / 32, 4, 32)) * dent);
    return blend(soil, [150, 132, 112], 0.7 * rise(0.87, 0.9, stone) * (0.4 + 0.6 * packed));
  });

/** Dry upland, 16 m a side: gravel and crusted soil, grey-green where herbs grow. */
export const upland = () =>
  paint(1024, (x, y) => {
    const herb = rise(0.52, 0.7, fractal(x / 170.67 + 5, y / 170.67, 5, 6));
    const crust = fractal(x / 64, y / 64, 5, 16);
    const gravel = noise(x / 4, y / 4, 256) > 0.8 ? 0.86 : 1;
    const soil = blend([208, 172, 126], [180, 142, 104], rise(0.35, 0.65, crust));
    return shade(blend(soil, [150, 144, 100], 0.55 * herb), gravel * (0.92 + 0.12 * noise(x / 9, y / 9, 113)));
  });
