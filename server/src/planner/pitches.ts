import { parse } from 'csv-parse/sync';
import { isDate, NO_DATE_CONSTRAINT, formatCount, type DateConstraint } from '@keyroster/core';
import type { PitchesKept, PitchList } from '@keyroster/contract';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { decode } from '../documents/decode.js';
import { delimiterOf } from '../documents/delimiter.js';
import type { UploadedFile } from '../http/handlers.js';
import { ProblemError } from '../http/problem.js';
import { refused } from '../posts/edit.js';
import { createPosts, pitchOf, type NewValues } from '../posts/pitch.js';

/** Puts several pitches in the tray, all or none. */
export async function addPitches(
  trx: Trx,
  person: CurrentPerson,
  { titles, categoryId }: PitchList,
): Promise<PitchesKept> {
  const made = await createPosts(
    trx,
    person,
    titles.map((title) => ({ values: pitchOf(person, { title, categoryId }) })),
  );
  if (made.refused.length > 0) throw refused(made.refused[0]!.refusal);
  const { ids } = made;
  return { ids, sentence: `Kept ${formatCount(ids.length, 'pitch', 'pitches')}.` };
}

/** A year of ideas and more; whatever is larger is another blog's archive, not a tray. */
const MAX_ROWS = 2_000;
const MAX_ERRORS = 10;
const COLUMNS = ['title', 'thought', 'category', 'writer', 'not before', 'not after', 'must be on'] as const;
type Column = (typeof COLUMNS)[number];
type Row = Partial<Record<Column, string>>;

/**
 * The rows of a CSV file (RFC 4180, comma or semicolon) by column; throws a sentence when it cannot be one.
 */
function readRows(bytes: Buffer): { line: number; row: Row }[] {
  const read = decode(bytes);
  if (!read || read.text.includes('\u0000')) throw new ProblemError('wrong-file', 'That is not a CSV file.');
  const { text } = read;
  const { content, delimiter } = delimiterOf(text.replace(/^\ufeff/, ''));
  let records: { info: { lines: number }; record: string[] }[];
  try {
    records = parse(content, {
      delimiter,
      info: true,
      relax_column_count: true,
      skip_empty_lines: true,
      trim: true,
      to: MAX_ROWS + 2,
      max_record_size: 100_000,
    }) as unknown as typeof records;
  } catch (error) {
    const line = (error as { lines?: number }).lines;
    throw new ProblemError(
      'wrong-file',
      `The file cannot be read as CSV${line ? `: look at line ${line}` : ''}. Nothing was kept.`,
    );
  }
  const header = (records.shift()?.record ?? []).map((name) => name.toLowerCase());
  if (!header.includes('title'))
    throw new ProblemError(
      'wrong-file',
      'The first row has to name the columns, with “title” among them. Known are: ' +
        `${COLUMNS.join(', ')}. Nothing was kept.`,
    );
  const double = header.find((name, i) => name !== '' && header.indexOf(name) < i);
  if (double !== undefined)
    throw new ProblemError('wrong-file', `There are two columns named “${double}”. Nothing was kept.`);
  const over = records.find(({ record }) => record.slice(header.length).some((cell) => cell !== ''));
  if (over)
    throw new ProblemError(
      'wrong-file',
      `Line ${over.info.lines} has more cells than there are columns; perhaps a quotation mark is missing. ` +
        'Nothing was kept.',
    );
  const strange = header.filter((name) => name !== '' && !(COLUMNS as readonly string[]).includes(name));
  if (strange.length > 0)
    throw new ProblemError(
      'wrong-file',
      `“${strange[0]!.slice(0, 60)}” is no column of pitches. Known are: ${COLUMNS.join(', ')}. Nothing was kept.`,
    );
  if (records.length > MAX_ROWS)
    throw new ProblemError(
      'too-large',
      `The file has more than ${MAX_ROWS.toLocaleString('en-GB')} rows. Bring them in a ` +
        'part at a time; nothing was kept.',
    );
  return records.map(({ info, record }) => ({
    line: info.lines,
    row: Object.fromEntries(header.map((name, i) => [name, record[i] ?? ''])) as Row,
  }));
}

/** Puts the rows of a CSV file in the tray, all or none; the first faults are named by line. */
export async function importPitches(
  trx: Trx,
  person: CurrentPerson,
  file: UploadedFile,
): Promise<PitchesKept> {
  const rows = readRows(file.bytes);
  if (rows.length === 0)
    throw new ProblemError('invalid', 'The file has no row below its column names. Nothing was kept.');
  const byName = async (table: 'categories' | 'people') =>
    new Map(
      (table === 'categories'
        ? await trx('categories')
            .where({ blog_id: person.blogId })
            .select<{ id: number; name: string }[]>('id', 'name')
        : await trx('memberships as m')
            .join('people as p', 'p.id', 'm.person_id')
            .where('m.blog_id', person.blogId)
            .where('p.active', true)
            .whereIn('m.role', ['managing editor', 'editor', 'contributor'])
            .select<{ id: number; name: string }[]>('p.id', 'p.name')
      ).map((r) => [r.name.toLowerCase(), r.id] as const),
    );
  const [categories, writers] = [await byName('categories'), await byName('people')];
  const errors: string[] = [];
  const pitches: { line: number; values: NewValues }[] = [];
  const refuse = (line: number, sentence: string) => {
    errors.push(`Line ${line}: ${sentence}`);
  };
  for (const { line, row } of rows) {
    const refuseRow = (sentence: string) => refuse(line, sentence);
    const title = (row.title ?? '').normalize('NFC');
    const categoryId = row.category ? categories.get(row.category.toLowerCase()) : null;
    const bylineId = row.writer ? writers.get(row.writer.toLowerCase()) : null;
    const dateConstraint: DateConstraint = {
      ...NO_DATE_CONSTRAINT,
      notBefore: row['not before'] || null,
      notAfter: row['not after'] || null,
      mustBeOn: row['must be on'] || null,
    };
    const badDate = Object.values(dateConstraint).find((d: string | null) => d !== null && !isDate(d));
    if (title === '') refuseRow('a pitch needs a title.');
    else if (title.length > 300) refuseRow('the title is longer than 300 characters.');
    else if ((row.thought ?? '').length > 4000) refuseRow('the thought is longer than 4,000 characters.');
    else if (categoryId === undefined) refuseRow(`there is no category “${row.category!.slice(0, 60)}”.`);
    else if (bylineId === undefined) refuseRow(`there is no writer “${row.writer!.slice(0, 60)}”.`);
    else if (badDate) refuseRow(`“${badDate.slice(0, 30)}” is not a date like 2026-12-24.`);
    else if (errors.length === 0) {
      try {
        const values = pitchOf(person, {
          title,
          thought: (row.thought ?? '').normalize('NFC'),
          categoryId,
          ...(bylineId === null ? {} : { bylineId }),
          dateConstraint,
        });
        pitches.push({ line, values });
      } catch (error) {
        if (!(error instanceof ProblemError)) throw error;
        refuseRow(error.message);
      }
    }
    if (errors.length >= MAX_ERRORS) break;
  }
  const made = errors.length === 0 ? await createPosts(trx, person, pitches) : { ids: [], refused: [] };
  for (const { at, refusal } of made.refused.slice(0, MAX_ERRORS))
    refuse(pitches[at]!.line, refusal.sentence);
  if (errors.length > 0) throw new ProblemError('invalid', `${errors.join(' ')} Nothing was kept.`);
  const { ids } = made;
  return {
    ids,
    sentence: `Kept ${formatCount(ids.length, 'pitch', 'pitches')} from ${file.name || 'the file'}.`,
  };
}
