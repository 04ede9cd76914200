import type { Server } from 'node:net';

/** Ports that are tried before it is given up. */
const TRIES = 20;

/**
 * Listens on loopback at a port, or at the next one that is free: two newsrooms that start at once may both have found
 * the same one free.
 */
export async function listenFrom<S extends Server>(server: S, port: number): Promise<S> {
  for (let at = port, tries = 1; ; at = at === 0 ? 0 : at + 1, tries++)
    try {
      await new Promise<void>((done, fail) => {
        const failed = (error: Error) => {
          server.off('listening', listening);
          fail(error);
        };
        const listening = () => {
          server.off('error', failed);
          done();
        };
        server.once('error', failed).once('listening', listening).listen(at, '127.0.0.1');
      });
      return server;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EADDRINUSE' || tries >= TRIES) throw error;
    }
}
