import { createServer, type AddressInfo } from 'node:net';
import { listenFrom } from './listen.js';

describe('a port that somebody else has', () => {
  it('is passed over for the next one', async () => {
    const first = await listenFrom(createServer(), 0);
    const { port } = first.address() as AddressInfo;
    const [second, third] = await Promise.all([
      listenFrom(createServer(), port),
      listenFrom(createServer(), port),
    ]);
    const ports = [second, third].map((s) => (s.address() as AddressInfo).port);
    expect(new Set([port, ...ports]).size).toBe(3);
    for (const other of ports) expect(other).toBeGreaterThan(port);
    for (const server of [first, second, third]) server.close();
  });
});
