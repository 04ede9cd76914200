import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { stringify } from 'csv-stringify/sync';
import type { Response } from 'express';

const BOM = '\ufeff';

/**
 * Sends a table as CSV (RFC 4180) as it is read, a batch of rows at a time and no faster than it is received. It begins
 * with a byte order mark, by which spreadsheets know that it is UTF-8.
 */
export async function sendCsv(
  res: Response,
  name: string,
  columns: readonly string[],
  batches: AsyncIterable<readonly (readonly (string | number | null)[])[]>,
): Promise<void> {
  const lines = (rows: readonly (readonly (string | number | null)[])[]) =>
    stringify(rows as (string | number | null)[][], { record_delimiter: 'windows' });
  res.set({
    'Content-Type': 'text/csv; charset=utf-8',
    'Content-Disposition': `attachment; filename="${name}"`,
  });
  async function* parts(): AsyncGenerator<string> {
    yield BOM + lines([columns]);
    for await (const rows of batches) {
      yield lines(rows);
      // Others have their turn between two batches.
      await new Promise((next) => setImmediate(next));
    }
  }
  await pipeline(Readable.from(parts()), res).catch((error: unknown) => {
    // Who asked has gone; anything else is a fault of ours.
    if (!res.destroyed || (error as NodeJS.ErrnoException).code !== 'ERR_STREAM_PREMATURE_CLOSE') throw error;
  });
}
