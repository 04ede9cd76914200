import { parse } from 'csv-parse';
import { stringify } from 'csv-stringify/sync';
import type { SubscribersImported } from '@keyroster/contract';
import { emailAddress } from '@keyroster/contract/schemas';
import type { CurrentPerson } from '../http/current-person.js';
import type { Reader, Trx } from '../db/connect.js';
import { plainCell } from '../documents/plain-cell.js';
import { decode } from '../documents/decode.js';
import { delimiterOf } from '../documents/delimiter.js';
import type { UploadedFile } from '../http/handlers.js';
import { ProblemError } from '../http/problem.js';

const MAX_ROWS = 200_000;
const TOLD_WRONG = 50;
const MAX_NAME = 120;
/** Rows that are looked at before others have their turn. */
const STRETCH = 500;
/** What the columns of other programs are called. */
const ADDRESS = /^(?:e-?mail(?:[ _-]?address)?|address)$/;
const NAME = /^(?:(?:full[ _-]?)?name|first[ _-]?name)$/;

const address = emailAddress().required();

/** The addresses of a file, each once, and what became of its lines. */
export interface FoundSubscribers {
  people: Map<string, string>;
  repeated: number;
  wrong: { line: number; text: string }[];
  wrongCount: number;
}

interface Line {
  info: { lines: number };
  record: string[];
}

/** Where the addresses stand: as the first row says, else in the first column that holds one. */
function columnsOf([first]: readonly Line[]): { email: number; name: number; heading: boolean } {
  const heads = (first?.record ?? []).map((cell) => cell.trim().toLowerCase());
  const email = heads.findIndex((head) => ADDRESS.test(head));
  if (email >= 0) return { email, name: heads.findIndex((head) => NAME.test(head)), heading: true };
  return {
    email: Math.max(
      0,
      heads.findIndex((head) => head.includes('@')),
    ),
    name: -1,
    heading: false,
  };
}

/** Reads a file of comma-separated values (or tabs, semicolons, bars), others having their turn in between. */
export async function readSubscribers(bytes: Buffer): Promise<FoundSubscribers> {
  const read = decode(bytes);
  if (!read) throw new ProblemError('wrong-file', 'That is no text. A list of subscribers is a CSV file.');
  const { content, delimiter } = delimiterOf(read.text.replace(/^\ufeff/, '').replace(/\r\n?/g, '\n'));
  const parser = parse(content, {
    delimiter,
    info: true,
    relax_column_count: true,
    relax_quotes: true,
    skip_empty_lines: true,
    trim: true,
  });
  const found: FoundSubscribers = { people: new Map(), repeated: 0, wrong: [], wrongCount: 0 };
  let columns: ReturnType<typeof columnsOf> | null = null;
  let rows = 0;
  try {
    for await (const line of parser as AsyncIterable<Line>) {
      if (!columns) {
        columns = columnsOf([line]);
        if (columns.heading) continue;
      }
      if (++rows > MAX_ROWS)
        throw new ProblemError(
          'too-large',
          `The file has more than ${MAX_ROWS.toLocaleString('en-GB')} rows. Bring them in a part at a time; nobody was put down.`,
        );
      addLine(found, line, columns);
      if (rows % STRETCH === 0) await new Promise((next) => setImmediate(next));
    }
  } catch (error) {
    if (error instanceof ProblemError) throw error;
    throw new ProblemError('wrong-file', 'The file cannot be read as CSV. Nobody was put down.');
  }
  return found;
}

function addLine(found: FoundSubscribers, { info, record }: Line, columns: { email: number; name: number }) {
  const { value, error } = address.validate(record[columns.email] ?? '') as { value: string; error?: Error };
  if (error) {
    found.wrongCount++;
    if (found.wrong.length < TOLD_WRONG)
      found.wrong.push({ line: info.lines, text: record.join(', ').slice(0, 120) });
  } else if (found.people.has(value)) found.repeated++;
  else {
    const name = columns.name < 0 ? '' : (record[columns.name] ?? '');
    found.people.set(
      value,
      name
        .normalize('NFC')
        .replace(/[\p{C}\s]+/gu, ' ')
        .trim()
        .slice(0, MAX_NAME),
    );
  }
}

/** Puts down who is in a file; whoever is on the list already stays as they are, also when they left it. */
export async function importSubscribers(
  trx: Trx,
  { blogId }: Pick<CurrentPerson, 'blogId'>,
  { people, repeated, wrong, wrongCount }: FoundSubscribers,
): Promise<SubscribersImported> {
  if (people.size === 0)
    throw new ProblemError('invalid', 'There is no e-mail address in this file. Nobody was put down.');
  const { rows } = await trx.raw<{ rows: { added: number }[] }>(
    `
      with
        put as (
          insert into
            subscribers (blog_id, email, name, state, how, confirmed_at)
          select
            ?,
            p.email,
            p.name,
            'active',
            'import',
            now()
          from
            unnest(?::text[], ?::text[]) with ordinality as p (email, name, n)
          order by
            p.n
          on conflict (blog_id, email) do nothing
          returning
            1
        )
      select
        count(*)::int as added
      from
        put
    `,
    [blogId, [...people.keys()], [...people.values()]],
  );
  const { added } = rows[0]!;
  return { added, known: people.size - added, repeated, wrong, wrongCount };
}

export const readSubscriberFile = ({ file }: { file: UploadedFile }): Promise<FoundSubscribers> =>
  readSubscribers(file.bytes);

/** Everybody on the list, as CSV (RFC 4180). */
export async function subscribersCsv(db: Reader, blogId: number): Promise<string> {
  const rows = await db('subscribers as s')
    .leftJoin('posts as p', 'p.id', 's.post_id')
    .where('s.blog_id', blogId)
    .orderBy('s.id')
    .select<
      Record<'email' | 'name' | 'state' | 'how' | 'asked' | 'confirmed' | 'left' | 'slug', string | null>[]
    >(
      's.email',
      's.name',
      's.state',
      's.how',
      's.asked_at as asked',
      's.confirmed_at as confirmed',
      's.left_at as left',
      'p.slug',
    );
  return stringify(
    [
      ['email', 'name', 'state', 'how', 'signed up', 'confirmed', 'left', 'from post'],
      ...rows.map((r) => [
        plainCell(r.email),
        plainCell(r.name),
        r.state,
        r.how,
        r.asked,
        r.confirmed ?? '',
        r.left ?? '',
        r.slug ?? '',
      ]),
    ],
    { record_delimiter: 'windows' },
  );
}
