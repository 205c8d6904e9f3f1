import { writeHdr } from '../core/rgbe';
import { makeStars, pixelOf, rowSolidAngle, type Panorama } from '../core/sky';
import { computedSky } from './computedSky';

/** A sky image that comes with Basil: computed, as a Radiance HDR file. */
export interface DemoSky {
  fileName: string;
  tags: string[];
  make(): Uint8Array;
}

const WIDTH = 1536;

const imageOf = (change: Parameters<typeof computedSky>[1]) => computedSky(WIDTH, change).image;

/** Stars as points of light, each in the pixel where it stands. */
function addStars({ width, height, rgba }: Panorama): void {
  const { directions, illuminances } = makeStars();
  for (let i = 0; i < illuminances.length; i++) {
    const d = [directions[i * 3]!, directions[i * 3 + 1]!, directions[i * 3 + 2]!] as [number, number, number];
    if (d[1] <= 0.02) continue;
    const [x, y] = pixelOf(d, width, height).map(Math.floor) as [number, number];
    const radiance = illuminances[i]! / rowSolidAngle(Math.min(height - 1, y), width, height);
    for (let c = 0; c < 3; c++) rgba[(Math.min(height - 1, y) * width + (x % width)) * 4 + c]! += radiance;
  }
}

const file = ({ width, height, rgba }: Panorama) => writeHdr(rgba, width, height);

/** The skies on the house's shelf; the last one is faulty on purpose, for the guide in docs/sky-images.md. */
export const DEMO_SKIES: DemoSky[] = [
  {
    fileName: 'clear_forenoon.hdr',
    tags: ['clear', 'day'],
    make: () =>
      file(
        imageOf((rig, cue) => {
          rig.airId = 'upland';
          cue.hour = 9.5;
        }),
      ),
  },
  {
    fileName: 'broken_clouds.hdr',
    tags: ['cloud', 'day'],
    make: () =>
      file(
        imageOf((rig, cue) => {
          rig.airId = 'humid';
          cue.hour = 15;
          cue.holds.clouds = { cover: 0.45, thickness: 9, heightM: 1600, scaleM: 1500, driftMps: 0, bearingDeg: 0, seed: 18 };
        }),
      ),
  },
  {
    fileName: 'moonlit_night.hdr',
    tags: ['night', 'moon', 'stars'],
    make: () => {
      const image = imageOf((rig, cue) => {
        rig.place.date = '2026-06-29';
        cue.hour = 23.5;
      });
      addStars(image);
      return file(image);
    },
  },
  {
    fileName: 'faulty_on_purpose.hdr',
    tags: ['guide'],
    make: () => {
      const image = imageOf((rig, cue) => {
        rig.airId = 'clear';
        cue.hour = 16.5;
      });
      const { width, height, rgba } = image;
      for (let i = 0; i < width * height; i++) {
        const [x, y] = [i % width, Math.floor(i / width)];
        for (let c = 0; c < 3; c++) {
          // Darker towards one edge, its ground black, its top cut off.
          const lit = y < height / 2 ? rgba[i * 4 + c]! * (0.6 + (0.4 * x) / width) : 0;
          rgba[i * 4 + c] = Math.min(30_000, lit);
        }
      }
      return file(image);
    },
  },
];
