import type { MessagePort } from 'node:worker_threads';
import { parse } from 'csv-parse/sync';
import { emailAddress } from '@keyroster/contract/schemas';
import { ProblemError } from '../http/problem.js';
import { decode } from './decode.js';
import { delimiterOf } from './delimiter.js';
import { cellAsWritten } from './plain-cell.js';

const MAX_ROWS = 200_000;
/** Wrong lines that are named. */
const NAMED_WRONG = 50;
const MAX_NAME = 120;
/** Addresses that are passed on together; the next come once these are kept. */
const CHUNK = 2000;
/** A quoted cell may have so many lines; one that is open for longer is a mistake in its first line. */
const MAX_CELL_LINES = 20;
/** What the columns of other programs are called. */
const ADDRESS = /^(?:e-?mail(?:[ _-]?address)?|address)$/;
const NAME = /^(?:(?:full[ _-]?)?name|first[ _-]?name)$/;
/** An address with the name of its owner (RFC 5322, section 3.4): "Ann" <ann@b.example>. */
const MAILBOX = /^\s*(?:"((?:[^"\\]|\\.)*)"|([^<>"]*?))\s*<([^<>\s]+)>\s*$/;

const address = emailAddress().required();

/** Addresses with names, in the order of the file. */
export interface AddressChunk {
  emails: string[];
  names: string[];
  /** Lines read so far, and how many there are. */
  done: number;
  total: number;
}

/** What became of the lines of a file. */
export interface AddressReport {
  found: number;
  repeated: number;
  wrong: { line: number; text: string }[];
  wrongCount: number;
}

interface Line {
  /** Where it begins, from 1. */
  at: number;
  text: string;
  cells: string[];
  /** It cannot be read as CSV (RFC 4180): its cells are what lies between delimiters. */
  isBroken: boolean;
}

/** The lines of a text as records; a line that cannot be read is one by itself, and the next begins after it. */
function* linesOf(text: string, delimiter: string): Generator<Line> {
  let at = 0;
  let from = 0;
  const next = (): string | null => {
    if (from > text.length) return null;
    const end = text.indexOf('\n', from);
    const line = text.slice(from, end < 0 ? text.length : end);
    from = end < 0 ? text.length + 1 : end + 1;
    at++;
    return line;
  };
  for (let line = next(); line !== null; line = next()) {
    if (line.trim() === '') continue;
    if (!line.includes('"')) {
      yield { at, text: line, cells: line.split(delimiter).map((cell) => cell.trim()), isBroken: false };
      continue;
    }
    const begin = { at, from };
    let record = line;
    let cells = cellsOf(record, delimiter);
    for (let more = 0; cells === null && more < MAX_CELL_LINES; more++) {
      const another = next();
      if (another === null) break;
      record += `\n${another}`;
      cells = cellsOf(record, delimiter);
    }
    if (cells === null) ({ at, from } = begin);
    yield { at: begin.at, text: line, cells: cells ?? line.split(delimiter), isBroken: cells === null };
  }
}

function cellsOf(record: string, delimiter: string): string[] | null {
  try {
    const [cells] = parse(record, {
      delimiter,
      relax_column_count: true,
      relax_quotes: true,
      trim: true,
    }) as string[][];
    return cells ?? null;
  } catch {
    return null;
  }
}

/** Where the addresses are: as the first row says, else in the first column that holds one. */
function columnsOf(first: readonly string[]): { email: number; name: number; isHeading: boolean } {
  const heads = first.map((cell) => cell.trim().toLowerCase());
  const email = heads.findIndex((head) => ADDRESS.test(head));
  if (email >= 0) return { email, name: heads.findIndex((head) => NAME.test(head)), isHeading: true };
  return {
    email: Math.max(
      0,
      heads.findIndex((head) => head.includes('@')),
    ),
    name: -1,
    isHeading: false,
  };
}

const plainName = (name: string): string =>
  name
    .normalize('NFC')
    .replace(/[\p{C}\s]+/gu, ' ')
    .trim()
    .slice(0, MAX_NAME);

/** The address and name of a line; null where it has no address. */
function personIn(
  { cells, isBroken }: Line,
  columns: { email: number; name: number },
): { email: string; name: string } | null {
  const cell = cells[columns.email] ?? '';
  // In a broken line the cells may be anywhere.
  const mailbox = isBroken ? cells.map((c) => MAILBOX.exec(c)).find(Boolean) : MAILBOX.exec(cell);
  const [, quoted, plain, inBrackets] = mailbox ?? [];
  if (isBroken && inBrackets === undefined) return null;
  const { value, error } = address.validate(inBrackets ?? cellAsWritten(cell)) as {
    value: string;
    error?: Error;
  };
  if (error) return null;
  const named = columns.name < 0 || isBroken ? '' : cellAsWritten(cells[columns.name] ?? '');
  return { email: value, name: plainName(named || (quoted ?? plain ?? '').replace(/\\(.)/g, '$1')) };
}

/**
 * Reads a file of comma-separated values (or tabs, semicolons, bars), each address once; lines that hold none are named
 * and skipped. For a thread of its own. `keep` gets the addresses a chunk at a time, and is waited for.
 * @throws ProblemError where the file is no text, or has too many rows.
 */
export async function readAddresses(
  bytes: Uint8Array,
  keep: (chunk: AddressChunk) => Promise<void>,
): Promise<AddressReport> {
  let total = 1;
  for (const byte of bytes) if (byte === 10) total++;
  // Lines within quoted cells are not rows, so that a file may have more lines; counted before anything is read.
  const tooMany = (n: number) =>
    new ProblemError(
      'too-large',
      `The file has ${n.toLocaleString('en-GB')} lines or more; at most ${MAX_ROWS.toLocaleString('en-GB')} fit. ` +
        'Import it in parts. Nobody was added.',
    );
  if (total > 2 * MAX_ROWS) throw tooMany(total);
  const read = decode(bytes);
  if (!read) throw new ProblemError('wrong-file', 'That is no text. A list of subscribers is a CSV file.');
  const { content, delimiter } = delimiterOf(read.text.replace(/^\ufeff/, '').replace(/\r\n?/g, '\n'));
  const seen = new Set<string>();
  const report: AddressReport = { found: 0, repeated: 0, wrong: [], wrongCount: 0 };
  let chunk: AddressChunk = { emails: [], names: [], done: 0, total };
  let columns: ReturnType<typeof columnsOf> | null = null;
  let rows = 0;
  for (const line of linesOf(content, delimiter)) {
    if (!columns) {
      columns = columnsOf(line.cells);
      if (columns.isHeading) continue;
    }
    if (++rows > MAX_ROWS) throw tooMany(rows);
    chunk.done = line.at;
    const person = personIn(line, columns);
    if (!person) {
      report.wrongCount++;
      if (report.wrong.length < NAMED_WRONG)
        report.wrong.push({
          line: line.at,
          text: (line.isBroken ? line.text : line.cells.join(', ')).slice(0, 120),
        });
    } else if (seen.has(person.email)) report.repeated++;
    else {
      seen.add(person.email);
      chunk.emails.push(person.email);
      chunk.names.push(person.name);
      if (chunk.emails.length === CHUNK) {
        await keep(chunk);
        chunk = { emails: [], names: [], done: chunk.done, total };
      }
    }
  }
  await keep({ ...chunk, done: total });
  return { ...report, found: seen.size };
}

/** The same where chunks go through a port to another thread, which answers each once it is kept. */
export function readAddressesInto(bytes: Uint8Array, port: MessagePort): Promise<AddressReport> {
  const kept = () => new Promise<void>((done) => port.once('message', () => done()));
  return readAddresses(bytes, async (chunk) => {
    const answer = kept();
    port.postMessage(chunk);
    await answer;
  }).finally(() => port.close());
}
