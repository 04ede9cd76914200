import { log } from './log.js';
import { settingsFrom } from './settings.js';
import { startServer } from './app/start.js';

process.on('unhandledRejection', (error) => log.error({ err: error }, 'unhandled'));

/** Ends with a sentence instead of a trace where the way out is known; 2 says that starting again is of no use. */
function giveUp(error: unknown): never {
  const { code, message } = error as NodeJS.ErrnoException;
  const port = process.env['PORT'] ?? '4300';
  const sentences: Record<string, string> = {
    EADDRINUSE: `Port ${port} is in use by another program. Stop that one, or set PORT to another port.`,
    EACCES: `Port ${port} may not be used by this account. Set PORT to one above 1024.`,
    EADDRNOTAVAIL: `This machine has no address “${process.env['HOST'] ?? ''}”. Set HOST to one that it has.`,
    ECONNREFUSED: 'The database cannot be reached. Look at DATABASE_URL, and whether PostgreSQL runs.',
    '28P01': 'The database does not accept the name or the password in DATABASE_URL.',
    '3D000': 'The database that DATABASE_URL names does not exist. Make it first.',
    '53100': 'The disk of the database is full. Make room, then start again.',
  };
  const sentence = code === undefined ? undefined : sentences[code];
  if (sentence === undefined) throw error;
  console.error(`\n  ${sentence}\n  (${message})\n`);
  process.exit(2);
}

const running = await startServer(settingsFrom(process.env)).catch(giveUp);
log.info({ port: running.port }, 'listening');
process.send?.('listening');
for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.once(signal, () => {
    // A second signal, or anything that hangs, ends the process the hard way; the database keeps everything
    // whole.
    setTimeout(() => process.exit(1), 10_000).unref();
    void running.stop().then(() => process.exit(0));
  });
}
