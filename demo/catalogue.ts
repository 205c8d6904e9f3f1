import { createServer, type Server, type ServerResponse } from 'node:http';
import { inspectSky, smallPicture } from '../core/image';
import { writeHdr } from '../core/rgbe';
import { kelvinFromRgb, luminance } from '../core/units';
import type { CatalogueItem } from '../core/api';
import { computedSky } from './computedSky';

/** How the stand-in collection behaves: as it should, or as one in trouble. */
export type Acting = 'well' | 'fail' | 'stall' | 'break';

const AIRS = ['clear', 'upland', 'humid'];
const HOURS = [6.2, 9, 12.5, 18.8];
const WIDTH = 768;

interface Made {
  file: Uint8Array;
  picture: Uint8Array;
  item: CatalogueItem;
}

/** One sky of the collection: computed for an air and an hour, with its typical values. */
async function make(airId: string, hour: number): Promise<Made> {
  const { image, lighting } = computedSky(WIDTH, (rig, cue) => {
    rig.airId = airId;
    cue.hour = hour;
  });
  const sun = lighting.suns.find((s) => s.kind === 'sun');
  const file = writeHdr(image.rgba, image.width, image.height);
  const report = inspectSky({
    image,
    file: image,
    format: 'hdr',
    claimed: null,
    bits: 8,
    encoding: 'linear',
    layout: 'panorama',
    isHdr: true,
  });
  const id = `${airId}-${Math.round(hour * 60)}`;
  const clock = `${String(Math.floor(hour)).padStart(2, '0')}:${String(Math.round((hour % 1) * 60)).padStart(2, '0')}`;
  return {
    file,
    picture: await smallPicture(image, report, { width: 192, height: 96 }),
    item: {
      id,
      name: `${{ clear: 'Clear sea air', upland: 'Dry upland', humid: 'Humid shore' }[airId]} at ${clock}`,
      picture: `pictures/${id}.png`,
      file: `files/${id}.hdr`,
      bytes: file.length,
      licence: 'CC0-1.0',
      tags: [airId, hour < 8 || hour > 18 ? 'low sun' : 'day'],
      typical: sun
        ? {
            sunAzimuthDeg: Number(sun.azimuthDeg.toFixed(1)),
            sunElevationDeg: Number(sun.elevationDeg.toFixed(1)),
            sunLux: Math.round(luminance(sun.illuminance)),
            sunKelvin: Math.round(kelvinFromRgb(sun.illuminance) ?? 5500),
            levelLux: Math.round(report.illuminanceLux),
          }
        : {},
    },
  };
}

/**
 * Starts a collection of a dozen computed skies on loopback, once all of them are computed. How it acts may be changed while it
 * runs, by POST /acting/fail and so on.
 */
export async function startCatalogue(port: number): Promise<{ server: Server; address: string; act(as: Acting): void }> {
  const all = new Map<string, Made>();
  for (const air of AIRS) {
    for (const hour of HOURS) {
      const made = await make(air, hour);
      all.set(made.item.id, made);
    }
  }
  let acting: Acting = 'well';

  const answer = (method: string, path: string, out: ServerResponse) => {
    const [, act] = /^\/acting\/(well|fail|stall|break)$/.exec(path) ?? [];
    if (method === 'POST' && act) {
      acting = act as Acting;
      return out.end(acting);
    }
    if (acting === 'fail') return out.writeHead(503).end('out of order');
    if (path === '/catalogue.json') {
      const list = { basilCatalogue: 1, name: 'Computed skies', items: [...all.values()].map((m) => m.item) };
      return out.writeHead(200, { 'content-type': 'application/json' }).end(JSON.stringify(list));
    }
    const [, folder, id] = /^\/(files|pictures)\/([a-z0-9-]+)\.(?:hdr|png)$/.exec(path) ?? [];
    const made = id ? all.get(id) : undefined;
    if (!made) return out.writeHead(404).end('no such file');
    const bytes = folder === 'files' ? made.file : made.picture;
    out.writeHead(200, { 'content-type': folder === 'files' ? 'image/vnd.radiance' : 'image/png' });
    if (folder === 'pictures' || acting === 'well') return out.end(bytes);
    // In trouble: half of it and then silence, or all of it with its rows in disorder.
    if (acting === 'stall') return out.write(bytes.subarray(0, bytes.length / 2));
    const broken = bytes.slice();
    for (let i = 300; i < broken.length; i += 97) broken[i]! ^= 0x55;
    return out.end(broken);
  };
  const server = createServer((request, out) => {
    answer(request.method ?? 'GET', (request.url ?? '/').split('?')[0]!, out);
  });
  await new Promise<void>((done, failed) => server.once('error', failed).listen(port, '127.0.0.1', done));
  const { port: taken } = server.address() as { port: number };
  return { server, address: `http://127.0.0.1:${taken}/catalogue.json`, act: (as) => void (acting = as) };
}
