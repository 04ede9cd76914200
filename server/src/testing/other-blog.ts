import { randomUUID } from 'node:crypto';
import type { Knex } from 'knex';

/** The id of the other blog and of everything in it: one row of each kind. */
export const FOREIGN_ID = 900_001;
/** Stands in every text of the other blog, so that an answer that holds it gives something away. */
export const FOREIGN_WORD = 'Foreignword';

interface Column {
  table: string;
  column: string;
  type: string;
}

/** Tables that are not of blogs: how far migrations are, and what is counted for a device or an address. */
const APART = /^(?:migrations(?:_lock)?|session|sign_in_failures)$/;

/** What a copy cannot take from its row, because it is given once and must be well formed. */
const SAID: Readonly<Record<string, Record<string, unknown>>> = {
  blogs: { path: '/foreign', home: 'http://127.0.0.1/foreign' },
};

/**
 * A second blog beside the demo, made from the demo's own rows: a copy of one row of every table, with ids of its own
 * and with every reference led to the other copies. New tables are in it by themselves.
 */
export class OtherBlog {
  private constructor(
    private readonly db: Knex,
    /** Columns that hold an id of a blog or of something in one. */
    private readonly fields: readonly Column[],
    /** Tables of which the other blog has a row. */
    readonly tables: readonly string[],
    /** Tables that are empty in the demo, so that there was nothing to copy. */
    readonly empty: readonly string[],
  ) {}

  static async make(db: Knex): Promise<OtherBlog> {
    const columns = await rowsOf<Column>(
      db,
      `select c.table_name as table, c.column_name as column, c.data_type as type from information_schema.columns c
       join information_schema.tables t using (table_schema, table_name)
       where c.table_schema = 'public' and t.table_type = 'BASE TABLE' and c.is_generated = 'NEVER'`,
    );
    const links = await rowsOf<{ table: string; column: string }>(
      db,
      `select con.conrelid::regclass::text as table, a.attname as column
       from pg_constraint con
       cross join unnest(con.conkey, con.confkey) k (own, far)
       join pg_attribute a on a.attrelid = con.conrelid and a.attnum = k.own
       join pg_attribute f on f.attrelid = con.confrelid and f.attnum = k.far
       where con.contype = 'f' and con.connamespace = 'public'::regnamespace and f.attname = 'id'`,
    );
    const uniques = await rowsOf<{ table: string; column: string }>(
      db,
      // In an index with an id, the id tells the copy apart.
      `select i.indrelid::regclass::text as table, a.attname as column from pg_index i
       join pg_attribute a on a.attrelid = i.indrelid and a.attnum = any (i.indkey)
       where i.indisunique and not exists (
         select 1 from pg_attribute n where n.attrelid = i.indrelid and n.attnum = any (i.indkey)
         and n.atttypid in ('integer'::regtype, 'bigint'::regtype))`,
    );
    const tables = [...new Set(columns.map((c) => c.table))].filter((t) => !APART.test(t)).sort();
    const copied: string[] = [];
    const empty: string[] = [];
    await db.transaction(async (trx) => {
      // Neither triggers nor references: the copies of other tables may still be missing.
      await trx.raw(`set local session_replication_role = 'replica'`);
      for (const table of tables) {
        const own = columns.filter((c) => c.table === table);
        const [row] = await trx
          .from(table)
          .select<Record<string, unknown>[]>(own.map((c) => c.column))
          .limit(1);
        (row ? copied : empty).push(table);
        if (!row) continue;
        const linked = new Set(links.filter((l) => l.table === table).map((l) => l.column));
        const alone = new Set(uniques.filter((u) => u.table === table).map((u) => u.column));
        await insertCopy(
          trx,
          table,
          own.map(({ column, type }) => {
            const value = row[column];
            const said = SAID[table]?.[column];
            if (said !== undefined) return [column, said];
            if (column === 'blog_id' || (column === 'id' && type !== 'text')) return [column, FOREIGN_ID];
            if (value === null) return [column, null];
            if (linked.has(column)) return [column, FOREIGN_ID];
            if (alone.has(column) && type === 'uuid') return [column, randomUUID()];
            if (alone.has(column) && value instanceof Buffer) return [column, value.map((byte) => byte ^ 1)];
            if (alone.has(column) && type === 'text') return [column, `${value as string}x`];
            return [column, type.startsWith('json') ? JSON.stringify(value) : value];
          }),
        );
        const texts = own.filter((c) => c.type === 'text' && !alone.has(c.column)).map((c) => c.column);
        for (const column of texts) await mark(trx, table, column, keyOf(own, linked));
      }
    });
    const fields = columns.filter(
      (c) =>
        ['integer', 'bigint'].includes(c.type) &&
        (c.column === 'id' ||
          c.column === 'blog_id' ||
          links.some((l) => l.table === c.table && l.column === c.column)),
    );
    return new OtherBlog(db, fields, copied, empty);
  }

  /** All rows of the other blog, and what elsewhere leads to it, as one text to compare. */
  async digest(): Promise<string> {
    const of = (table: string) => {
      const led = [...new Set(this.fields.filter((f) => f.table === table).map((f) => f.column))];
      const where = led.map((column) => `"${column}" = ${FOREIGN_ID}`).join(' or ');
      return `select '${table}' as table, string_agg(t::text, ';' order by t::text) as rows from "${table}" t where ${where}`;
    };
    const tables = [...new Set(this.fields.map((f) => f.table))];
    const rows = await rowsOf<{ table: string; rows: string | null }>(
      this.db,
      tables.map(of).join(' union all '),
    );
    return rows.map((r) => `${r.table}: ${r.rows}`).join('\n');
  }
}

const rowsOf = async <T>(db: Knex, sql: string): Promise<T[]> => (await db.raw<{ rows: T[] }>(sql)).rows;

async function insertCopy(trx: Knex.Transaction, table: string, values: [string, unknown][]): Promise<void> {
  const columns = values.map(() => '??').join();
  const bound = values.map(() => '?').join();
  await trx.raw(`insert into ?? (${columns}) overriding system value values (${bound})`, [
    table,
    ...values.map(([column]) => column),
    ...values.map(([, value]) => value as Knex.Value),
  ]);
}

/** Puts the word into a text of the copied row, where it may hold any: not into a stage or an address. */
async function mark(
  trx: Knex.Transaction,
  table: string,
  column: string,
  key: Record<string, number>,
): Promise<void> {
  await trx
    .transaction((inner) =>
      inner(table)
        .where(key)
        .update({ [column]: FOREIGN_WORD }),
    )
    .catch(() => undefined);
}

/** How the copied row of a table is found again. */
function keyOf(own: readonly Column[], linked: ReadonlySet<string>): Record<string, number> {
  const column = own.find((c) => c.column === 'id' && c.type !== 'text') ??
    own.find((c) => c.column === 'blog_id' || linked.has(c.column)) ?? { column: 'id' };
  return { [column.column]: FOREIGN_ID };
}
