import { log } from './log.js';
import { settingsFrom } from './settings.js';
import { startServer } from './start.js';

process.on('unhandledRejection', (error) => log.error({ err: error }, 'unhandled'));

const running = await startServer(settingsFrom(process.env));
log.info({ port: running.port }, 'listening');
process.send?.('listening');
for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.once(signal, () => {
    // A second signal, or anything that hangs, ends the process the hard way; the database keeps everything whole.
    setTimeout(() => process.exit(1), 10_000).unref();
    void running.stop().then(() => process.exit(0));
  });
}
