import { once } from 'node:events';
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
  res.write(BOM + lines([columns]));
  for await (const rows of batches) {
    if (res.destroyed) return;
    if (!res.write(lines(rows))) await Promise.race([once(res, 'drain'), once(res, 'close')]);
    // Others have their turn between two batches.
    await new Promise((next) => setImmediate(next));
  }
  res.end();
}
