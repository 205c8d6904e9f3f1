import { createServer, type RequestListener } from 'node:http';
import type { AddressInfo } from 'node:net';
import { catalogueAddresses, readCatalogue } from './index';

/** Asks a collection that answers so. */
async function asked<T>(listener: RequestListener, ask: (address: string) => Promise<T>): Promise<T> {
  const server = createServer(listener);
  await new Promise<void>((listening) => server.listen(0, '127.0.0.1', listening));
  try {
    return await ask(`http://127.0.0.1:${(server.address() as AddressInfo).port}/catalogue.json`);
  } finally {
    server.closeAllConnections();
    server.close();
  }
}

const item = (id: string, file: string, more: object = {}) => ({ id, name: id, file, bytes: 100, licence: 'CC0-1.0', ...more });
const list = (...items: object[]) => JSON.stringify({ basilCatalogue: 1, name: 'Skies', items });

describe('the list of a collection', () => {
  it('leaves out what has no address on its own host, and keeps the rest', async () => {
    const text = list(
      item('good', 'noon.hdr', { picture: 'http://[nowhere' }),
      item('broken', 'http://[nowhere/noon.hdr'),
      item('elsewhere', 'http://127.0.0.1:9/noon.hdr'),
      item('local', 'file:///etc/passwd'),
    );
    const { items } = await asked((_, response) => response.end(text), readCatalogue);
    expect(items.map((i) => [i.id, i.picture])).toEqual([['good', undefined]]);
  });

  it('is given up where it comes in drops', async () => {
    const drip: RequestListener = (_, response) => {
      response.writeHead(200);
      const timer = setInterval(() => response.write(' '), 100);
      response.on('close', () => clearInterval(timer));
    };
    await expect(asked(drip, (address) => readCatalogue(address, 1))).rejects.toThrow(/has not come whole within 1 s/);
  });
});

describe('the addresses of collections', () => {
  afterEach(() => delete process.env.BASIL_CATALOGUES);

  it('are those that are addresses', () => {
    process.env.BASIL_CATALOGUES = 'http://a.example/list.json, http://, nonsense, ftp://b.example/x,https://c.example/l.json';
    expect(catalogueAddresses()).toEqual(['http://a.example/list.json', 'https://c.example/l.json']);
  });
});
