import { fractal, noise } from '../random';
import { blend, paint, rise, shade } from './paint';

/** Lime plaster, 5 m a side: stains, hairline cracks, and patches where the mud coat under it shows. */
export const limewash = () =>
  paint(1024, (x, y) => {
    const stain = fractal(x / 256, y / 256, 5, 4);
    const crack = Math.abs(fractal(x / 128, y / 128, 5, 8) - 0.5);
    const bare = rise(0.66, 0.7, fractal(x / 204.8 + 3, y / 204.8, 4, 5) + 0.04 * noise(x / 8, y / 8, 128));
    const wash = shade(blend([236, 224, 200], [206, 184, 150], rise(0.4, 0.72, stain)), 0.94 + 0.08 * noise(x / 6, y / 6, 171));
    const mud = shade([190, 154, 112], 0.84 + 0.26 * fractal(x / 16, y / 16, 3, 64));
    const rim = bare > 0.05 && bare < 0.9 ? 0.88 : 1;
    return shade(blend(wash, mud, bare), rim * (crack < 0.0035 ? 0.82 : 1));
  });

/** Mud plaster, 4 m a side: ochre, trowelled, with chopped straw and rain runs. */
export const mudPlaster = () =>
  paint(1024, (x, y) => {
    const trowel = fractal(x / 128, y / 51.2, 4, 8);
    const straw = noise(x / 11, y / 2.2, 465) > 0.88 ? 1.1 : 1;
    const run = 1 - 0.14 * rise(0.52, 0.78, fractal(x / 25.6, y / 512, 3, 40));
    const tone = blend([214, 176, 126], [186, 144, 98], rise(0.3, 0.7, trowel));
    return shade(tone, straw * run * (0.93 + 0.12 * fractal(x / 10.24, y / 10.24, 2, 100)));
  });
