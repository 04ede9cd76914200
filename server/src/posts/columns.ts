import {
  POST_FIELDS,
  POST_FIELD_NAMES,
  TEXT_FIELD_NAMES,
  textFieldsIn,
  type Access,
  type BodyNode,
  type FormatValues,
  type PostField,
  type PostValues,
  type Stage,
  type TextFieldName,
} from '@keyroster/core';

type SqlType = 'text' | 'int' | 'boolean' | 'jsonb' | 'date' | 'timestamp' | 'timestamptz';

/** Where a field of a post is kept: its columns with their types, and how a value becomes theirs and back. */
interface Kept<T, R> {
  columns: { [C in keyof R]: SqlType };
  read(row: R): T;
  write(value: T): R;
}

const one =
  <T>() =>
  <C extends string>(name: C, type: SqlType): Kept<T, Record<C, T>> => ({
    columns: { [name]: type } as Record<C, SqlType>,
    read: (row) => row[name],
    write: (value) => ({ [name]: value }) as Record<C, T>,
  });
const textOrNone = one<string | null>();
const id = one<number | null>();
const several = <T, R extends object>(kept: Kept<T, R>) => kept;

/** Fields that live in tables of their own; see write.ts. */
export type JoinedField = 'tagIds' | 'coauthorIds';
/** Kept with when and by whom, which the database fills in. */
export type MarkedField = 'binned';
export type ColumnField = Exclude<PostField, JoinedField | MarkedField>;

/** Fields of a kind that says what their column is; it is called as the field, `search_title` for `searchTitle`. */
const PLAIN_KINDS = { text: 'text', flag: 'boolean', reference: 'int' } as const satisfies Record<
  string,
  SqlType
>;
type PlainField = {
  [F in ColumnField]: (typeof POST_FIELDS)[F]['kind'] extends keyof typeof PLAIN_KINDS ? F : never;
}[ColumnField];

/** The columns of the other fields. */
const OWN_COLUMNS = {
  slug: textOrNone('slug', 'text'),
  body: one<BodyNode>()('body', 'jsonb'),
  suggested: one<BodyNode | null>()('suggested', 'jsonb'),
  words: one<number>()('words', 'int'),
  access: one<Access>()('access', 'text'),
  leadPicture: several({
    columns: { lead_media_id: 'int', lead_alt: 'text' },
    read: (r: { lead_media_id: number | null; lead_alt: string }) =>
      r.lead_media_id === null ? null : { media: r.lead_media_id, alt: r.lead_alt },
    write: (picture: PostValues['leadPicture']) => ({
      lead_media_id: picture?.media ?? null,
      lead_alt: picture?.alt ?? '',
    }),
  }),
  sharePicture: id('share_media_id', 'int'),
  formatValues: one<FormatValues>()('format_values', 'jsonb'),
  sourceUrl: one<string>()('source_url', 'text'),
  spotlight: several({
    columns: { spotlight_from: 'date', spotlight_until: 'date' },
    read: (r: { spotlight_from: string | null; spotlight_until: string | null }) =>
      r.spotlight_from === null ? null : { from: r.spotlight_from, until: r.spotlight_until! },
    write: (spotlight: PostValues['spotlight']) => ({
      spotlight_from: spotlight?.from ?? null,
      spotlight_until: spotlight?.until ?? null,
    }),
  }),
  brief: several({
    columns: { brief_angle: 'text', brief_length: 'int', copy_date: 'date' },
    read: (r: { brief_angle: string; brief_length: number | null; copy_date: string | null }) => ({
      angle: r.brief_angle,
      length: r.brief_length,
      copyDate: r.copy_date,
    }),
    write: (brief: PostValues['brief']) => ({
      brief_angle: brief.angle,
      brief_length: brief.length,
      copy_date: brief.copyDate,
    }),
  }),
  dateConstraint: several({
    columns: { not_before: 'date', not_after: 'date', must_be_on: 'date' },
    read: (r: { not_before: string | null; not_after: string | null; must_be_on: string | null }) => ({
      notBefore: r.not_before,
      notAfter: r.not_after,
      mustBeOn: r.must_be_on,
    }),
    write: (dateConstraint: PostValues['dateConstraint']) => ({
      not_before: dateConstraint.notBefore,
      not_after: dateConstraint.notAfter,
      must_be_on: dateConstraint.mustBeOn,
    }),
  }),
  rating: id('rating', 'int'),
  run: several({
    columns: { run_local: 'timestamp', run_zone: 'text', run_at: 'timestamptz' },
    read: (r: { run_local: string | null; run_zone: string | null; run_at: string | null }) =>
      r.run_local === null ? null : { local: r.run_local, zone: r.run_zone!, at: r.run_at! },
    write: (run: PostValues['run']) => ({
      run_local: run?.local ?? null,
      run_zone: run?.zone ?? null,
      run_at: run?.at ?? null,
    }),
  }),
  stage: one<Stage>()('stage', 'text'),
  stageSince: one<string>()('stage_since', 'timestamptz'),
  scheduledAt: textOrNone('scheduled_at', 'timestamptz'),
  releasedAt: textOrNone('released_at', 'timestamptz'),
  readersVersion: id('readers_version', 'int'),
} satisfies {
  [F in Exclude<ColumnField, PlainField> | 'sharePicture']: {
    columns: Record<string, SqlType>;
    read(row: never): PostValues[F];
    write(value: PostValues[F]): object;
  };
};

type SnakeCase<S extends string> = S extends `${infer H}${infer T}`
  ? `${H extends Lowercase<H> ? H : `_${Lowercase<H>}`}${SnakeCase<T>}`
  : '';
type PlainColumns = {
  [F in Exclude<PlainField, keyof typeof OWN_COLUMNS>]: Kept<
    PostValues[F],
    Record<SnakeCase<F>, PostValues[F]>
  >;
};

const plainColumns = Object.fromEntries(
  POST_FIELD_NAMES.flatMap((field) => {
    const { kind } = POST_FIELDS[field];
    if (field in OWN_COLUMNS || field === 'binned' || !(kind in PLAIN_KINDS)) return [];
    const name = field.replace(/[A-Z]/g, (c) => `_${c.toLowerCase()}`);
    return [[field, one()(name, PLAIN_KINDS[kind as keyof typeof PLAIN_KINDS])]];
  }),
) as unknown as PlainColumns;

/** The columns of every field. They are known here and in SQL, and nowhere else. */
export const COLUMNS = { ...plainColumns, ...OWN_COLUMNS };

type Columns = typeof COLUMNS;
type RowOf<K> = K extends { write(value: never): infer R } ? R : never;
type Together<U> = (U extends unknown ? (row: U) => void : never) extends (row: infer R) => void ? R : never;
/** The columns of all fields in one row. Wall times and dates are text, instants RFC 3339 text. */
export type ColumnRow = Together<RowOf<Columns[ColumnField]>>;

export const COLUMN_FIELDS = POST_FIELD_NAMES.filter((f): f is ColumnField => f in COLUMNS);

const columnOf = (field: ColumnField) => COLUMNS[field] as unknown as Kept<unknown, Record<string, unknown>>;

/** The columns of a field with their types. */
export const columnsOf = (field: ColumnField): [name: string, type: SqlType][] =>
  Object.entries(columnOf(field).columns);

/** Fields that are heavy: read only where somebody looks at them. */
export type TextField = 'body' | 'suggested';
const isText = (field: PostField): field is TextField => field === 'body' || field === 'suggested';
const LIGHT_FIELDS = COLUMN_FIELDS.filter((f) => !isText(f));

const READERS = LIGHT_FIELDS.map((f) => [f, columnOf(f).read] as const);

/**
 * The values of a row’s fields; the texts only where they were read. Put together in one and the same order, since
 * batches read thousands and objects of one build are quick to copy and compare.
 */
export function valuesOf(
  row: Omit<ColumnRow, TextField> & Partial<Pick<ColumnRow, TextField>>,
): Pick<PostValues, Exclude<ColumnField, TextField>> & Partial<Pick<PostValues, TextField>> {
  const columns = row as unknown as Record<string, unknown>;
  const values: Record<string, unknown> = {};
  for (const [field, read] of READERS) values[field] = read(columns);
  if (row.body !== undefined) values['body'] = row.body;
  if (row.suggested !== undefined) values['suggested'] = row.suggested;
  return values as Pick<PostValues, Exclude<ColumnField, TextField>>;
}

/** What stands in the columns of a field for a value. */
export const written = <F extends ColumnField>(field: F, value: PostValues[F]): Record<string, unknown> =>
  columnOf(field).write(value);

/** The column of a field of text. */
export const textColumn = (field: TextFieldName): string => columnsOf(field)[0]![0];

/** The texts of some fields of a row. */
export const textsOf = <F extends TextFieldName>(row: object, fields: readonly F[]): Pick<PostValues, F> =>
  Object.fromEntries(fields.map((f) => [f, (row as Record<string, unknown>)[textColumn(f)]])) as Pick<
    PostValues,
    F
  >;

/** The lines under the title of a row's post, those that say something. */
export const underTitle = (row: object): string[] =>
  Object.values(textsOf(row, textFieldsIn('under the title'))).filter((text) => text !== '');

/** What stands for texts in a version that was kept before there was a field of that name. */
export const EMPTY_TEXT_COLUMNS: Readonly<Record<string, string>> = Object.fromEntries(
  TEXT_FIELD_NAMES.map((f) => [textColumn(f), '']),
);

/** Every column of a post's fields but its texts. */
export const LIGHT_COLUMNS: readonly string[] = LIGHT_FIELDS.flatMap((f) =>
  columnsOf(f).map(([name]) => name),
);
