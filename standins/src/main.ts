import { startStandins } from './index.js';

const running = await startStandins({
  port: Number(process.env['STANDINS_PORT'] ?? 4390),
  smtpPort: Number(process.env['STANDINS_SMTP_PORT'] ?? 4391),
  folder: process.env['STANDINS_FOLDER'] ?? '.data/standins',
  bounces: process.env['STANDINS_BOUNCES'] ?? null,
  journal: process.env['STANDINS_JOURNAL'] ?? null,
});
process.send?.({ url: running.url, smtpPort: running.smtpPort });
for (const signal of ['SIGTERM', 'SIGINT'] as const)
  process.once(signal, () => void running.stop().then(() => process.exit(0)));
