import { pino } from 'pino';

/** What went wrong and where, without the connections and queries that drivers hang on their errors. */
function brief(error: unknown): object {
  const { message, code, stack } = error as { message?: string; code?: string; stack?: string };
  return {
    message,
    code,
    stack: stack
      ?.split('\n')
      .slice(1, 6)
      .map((line) => line.trim()),
  };
}

export const log = pino({
  level: process.env['LOG_LEVEL'] ?? 'info',
  base: null,
  timestamp: pino.stdTimeFunctions.isoTime,
  serializers: { err: brief },
});
