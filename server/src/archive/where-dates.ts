import { spanOf } from '@keyroster/core';
import { join, sql, type Sql } from './sql.js';

/** From one day on, until another, of a column; `at` makes of a day what the column is compared with. */
export function within(column: string, value: string, at: (day: string) => Sql): Sql {
  const span = spanOf(value);
  if (!span) return sql('false');
  return join(
    [
      ...(span.from ? [join([sql(`${column} >= `), at(span.from)], '')] : []),
      ...(span.until ? [join([sql(`${column} < `), at(span.until)], '')] : []),
    ],
    ' and ',
  );
}

/**
 * By the day on the wall. The same in instants, a day wider, since no zone is further from UTC: what is read newest
 * first ends there.
 */
export function released(value: string): Sql {
  const span = spanOf(value);
  const wide = [
    ...(span?.from
      ? [sql(`p.run_at >= (?::timestamp - interval '1 day') at time zone 'UTC'`, span.from)]
      : []),
    ...(span?.until
      ? [sql(`p.run_at < (?::timestamp + interval '1 day') at time zone 'UTC'`, span.until)]
      : []),
  ];
  return join([within('p.run_local', value, (day) => sql('?::timestamp', day)), ...wide], ' and ');
}
