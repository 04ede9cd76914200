import { bodyText, errorOfFields, type BodyNode, type FormatField } from '@keyroster/core';
import type {
  FormatChanges,
  FormatView,
  NewFormat,
  NewTemplate,
  TemplateChanges,
  TemplateView,
  FieldValues,
} from '@keyroster/contract';
import { saveAddition, saveChange, saveRemoval, type Change } from '../changes/save.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError, notFound } from '../http/problem.js';
import { markUnmeasured } from './measure.js';
import { visiblePost } from '../posts/visible.js';
import { readMarkdown } from '../documents/markdown.js';
import { bodyMarkdown } from './markdown.js';

interface FormatRow {
  id: number;
  name: string;
  hint: string;
  fields: FormatField[];
  starter: BodyNode;
  retired: boolean;
  posts: number;
  version: number;
}

const formatView = (row: FormatRow): FormatView => ({
  ...row,
  starterText: bodyMarkdown(row.starter).trim(),
});

function formatRows(db: Queryable, blogId: number) {
  return db('formats')
    .where({ blog_id: blogId })
    .orderBy('id')
    .select<FormatRow[]>(
      'id',
      'name',
      'hint',
      'fields',
      'starter',
      'retired',
      'version',
      db.raw('(select count(*) from posts p where p.format_id = formats.id)::int as posts'),
    );
}

export async function listFormats(db: Queryable, blogId: number): Promise<FormatView[]> {
  return (await formatRows(db, blogId)).map(formatView);
}

function checked(fields: readonly FormatField[]): string {
  const error = errorOfFields(fields);
  if (error) throw new ProblemError('invalid', error, { fields: [{ field: 'fields', sentence: error }] });
  return JSON.stringify(fields);
}

async function mustBeFree(
  trx: Trx,
  table: 'formats' | 'templates',
  blogId: number,
  name: string,
  besides: number | null,
): Promise<void> {
  const other = await trx(table)
    .where({ blog_id: blogId })
    .whereRaw('lower(name) = lower(?)', [name])
    .whereNot({ id: besides ?? 0 })
    .first('id');
  if (other)
    throw new ProblemError(
      'taken',
      `There is a ${table === 'formats' ? 'format' : 'template'} “${name}” already.`,
    );
}

export async function addFormat(trx: Trx, person: CurrentPerson, input: NewFormat): Promise<FormatView> {
  await mustBeFree(trx, 'formats', person.blogId, input.name, null);
  const [row] = await trx('formats')
    .insert({
      blog_id: person.blogId,
      name: input.name,
      hint: input.hint,
      fields: checked(input.fields),
      starter: JSON.stringify(readMarkdown(input.starterText).body),
    })
    .returning<{ id: number }[]>('id');
  return saveAddition({ trx, person }, changedFormat(trx, person, row!.id));
}

const changedFormat = (trx: Trx, { blogId }: CurrentPerson, id: number) => ({
  kind: 'format' as const,
  id,
  read: async (): Promise<FormatView & FieldValues> => {
    const [row] = await formatRows(trx, blogId).where({ id });
    if (!row) throw notFound('That format');
    return { ...formatView(row) };
  },
  name: ({ name }: FormatView) => name,
});

/** Changes a format. Posts keep their values, those of a field that went away too, in case it comes back. */
export function changeFormat(change: Change, id: number, changes: FormatChanges): Promise<FormatView> {
  const { trx, person } = change;
  return saveChange(change, changedFormat(trx, person, id), async () => {
    if (changes.name !== undefined) await mustBeFree(trx, 'formats', person.blogId, changes.name, id);
    const { name, hint, retired } = changes;
    await trx('formats')
      .where({ id })
      .update({
        blog_id: person.blogId,
        ...(name === undefined ? {} : { name }),
        ...(hint === undefined ? {} : { hint }),
        ...(retired === undefined ? {} : { retired }),
        ...(changes.fields ? { fields: checked(changes.fields) } : {}),
        ...(changes.starterText === undefined
          ? {}
          : { starter: JSON.stringify(readMarkdown(changes.starterText).body) }),
      });
    await markUnmeasured(trx, person.blogId, trx('posts').where({ format_id: id }));
  });
}

interface TemplateRow {
  id: number;
  name: string;
  body: BodyNode;
  version: number;
}
const templateView = (row: TemplateRow): TemplateView => ({ ...row, text: bodyMarkdown(row.body).trim() });

export async function listTemplates(db: Queryable, blogId: number, only?: number): Promise<TemplateView[]> {
  const query = db('templates')
    .where({ blog_id: blogId })
    .orderBy('name')
    .select<TemplateRow[]>('id', 'name', 'body', 'version');
  if (only !== undefined) void query.where({ id: only });
  return (await query).map(templateView);
}

const changedTemplate = (trx: Trx, { blogId }: CurrentPerson, id: number) => ({
  kind: 'template' as const,
  id,
  read: async (): Promise<TemplateView & FieldValues> => {
    const [template] = await listTemplates(trx, blogId, id);
    if (!template) throw notFound('That template');
    return { ...template };
  },
  name: ({ name }: TemplateView) => name,
});

export async function addTemplate(
  trx: Trx,
  person: CurrentPerson,
  input: NewTemplate,
): Promise<TemplateView> {
  await mustBeFree(trx, 'templates', person.blogId, input.name, null);
  const body =
    input.postId === undefined
      ? readMarkdown(input.text ?? '').body
      : (await visiblePost(trx, person, input.postId)).body;
  if (bodyText(body) === '') throw new ProblemError('invalid', 'A template needs some text to start from.');
  const [row] = await trx('templates')
    .insert({ blog_id: person.blogId, name: input.name, body: JSON.stringify(body), made_by: person.id })
    .returning<{ id: number }[]>('id');
  return saveAddition({ trx, person }, changedTemplate(trx, person, row!.id));
}

export function changeTemplate(change: Change, id: number, changes: TemplateChanges): Promise<TemplateView> {
  const { trx, person } = change;
  return saveChange(change, changedTemplate(trx, person, id), async () => {
    if (changes.name !== undefined) await mustBeFree(trx, 'templates', person.blogId, changes.name, id);
    await trx('templates')
      .where({ id })
      .update({
        blog_id: person.blogId,
        ...(changes.name === undefined ? {} : { name: changes.name }),
        ...(changes.text === undefined ? {} : { body: JSON.stringify(readMarkdown(changes.text).body) }),
      });
  });
}

export async function removeTemplate(change: Change, id: number): Promise<null> {
  await saveRemoval(change, changedTemplate(change.trx, change.person, id), () =>
    change.trx('templates').where({ id }).delete(),
  );
  return null;
}
