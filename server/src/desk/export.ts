import { makeDocx } from './docx.js';
import {
  bodyHtml,
  bodyText,
  escapeHtml,
  fileIds,
  fileKey,
  inlineText,
  pictureIds,
  suggestedInWords,
  textFieldsIn,
  type BodyNode,
  type PostField,
} from '@keyroster/core';
import type { OutKind, OutQuery } from '@keyroster/contract';
import type { Queryable } from '../db/connect.js';
import { fileSources } from '../media/files.js';
import { pictureSources } from '../media/sizes.js';
import { textsOf, underTitle } from '../posts/columns.js';
import type { WholePostRow } from '../posts/store.js';
import { bodyMarkdown, yamlText } from './markdown.js';

export interface Exported {
  name: string;
  type: string;
  data: Buffer;
}

interface Facts {
  row: WholePostRow;
  category: string | null;
  tags: string[];
  coauthors: string[];
}

async function factsOf(db: Queryable, row: WholePostRow): Promise<Facts> {
  const category =
    row.category_id === null
      ? undefined
      : await db('categories').where({ id: row.category_id }).first<{ name: string }>('name');
  return {
    row,
    category: category?.name ?? null,
    tags: await db('tags').whereIn('id', row.tag_ids).orderBy('name').pluck<string[]>('name'),
    coauthors: await db('people').whereIn('id', row.coauthor_ids).orderBy('name').pluck<string[]>('name'),
  };
}

/** Front matter in YAML, with what there is. */
function frontMatter({ row, category, tags, coauthors }: Facts): string {
  const list = (values: readonly string[]) => `[${values.map((v) => JSON.stringify(v)).join(', ')}]`;
  const lines: [string, string][] = [
    ...Object.entries(textsOf(row, textFieldsIn('files'))).map(([field, text]): [string, string] => [
      fileKey(field as PostField),
      text,
    ]),
    ['author', row.byline_name ?? ''],
    ['date', row.run_local ?? ''],
    ['slug', row.slug ?? ''],
    ['category', category ?? ''],
    ['source', row.source_url],
  ];
  return [
    '---',
    ...lines.filter(([, value]) => value !== '').map(([key, value]) => `${key}: ${yamlText(value)}`),
    ...(coauthors.length > 0 ? [`co-authors: ${list(coauthors)}`] : []),
    ...(tags.length > 0 ? [`tags: ${list(tags)}`] : []),
    '---',
    '',
    '',
  ].join('\n');
}

async function asHtml(db: Queryable, { row }: Facts, home: string, makers: Makers | null): Promise<string> {
  const pictures = await pictureSources(db, pictureIds(row.body), home);
  const files = await fileSources(db, fileIds(row.body), home);
  const lead =
    row.lead_media_id === null
      ? undefined
      : (await pictureSources(db, [row.lead_media_id], home))(row.lead_media_id);
  const body = bodyHtml(
    row.body,
    (id) => {
      const source = pictures(id);
      return source && { ...source, sources: [] };
    },
    {
      headingIds: true,
      files,
      foldMark: true,
      signUpAction: `${home}/letter`,
      ...(makers ? { suggestedBy: makers } : {}),
    },
  );
  const title = escapeHtml(row.title);
  const description = escapeHtml(row.search_description || row.excerpt);
  const lines = [
    '<!doctype html>',
    '<html lang="en">',
    '<head>',
    '<meta charset="utf-8">',
    `<title>${title}</title>`,
    description && `<meta name="description" content="${description}">`,
    '</head>',
    '<body>',
    '<article>',
    `<h1>${title}</h1>`,
    ...underTitle(row).map((line) => `<p><em>${escapeHtml(line)}</em></p>`),
    lead &&
      `<figure><img src="${escapeHtml(lead.src)}" alt="${escapeHtml(row.lead_alt)}" ` +
        `width="${lead.width}" height="${lead.height}"></figure>`,
    body,
    '</article>',
    '</body>',
    '</html>',
    '',
  ];
  return lines.filter((line, at) => line || at === lines.length - 1).join('\n');
}

/** Plain text: headings underlined, list items marked, as one would type it into a letter. */
export function plainText(body: BodyNode): string {
  const out: string[] = [];
  const visit = (node: BodyNode, lead: string): void => {
    const items = node.type === 'bulletList' || node.type === 'orderedList' || node.type === 'checkList';
    if (items) {
      (node.content ?? []).forEach((item, i) => {
        const mark =
          node.type === 'orderedList'
            ? `${Number(node.attrs?.['start'] ?? 1) + i}. `
            : node.type === 'checkList'
              ? item.attrs?.['checked']
                ? '[x] '
                : '[ ] '
              : '- ';
        (item.content ?? []).forEach((child, j) =>
          visit(child, j === 0 ? lead + mark : ' '.repeat(lead.length + mark.length)),
        );
      });
      if (lead.trim() === '') out.push('');
    } else if (node.type === 'table') {
      for (const r of node.content ?? [])
        out.push(lead + (r.content ?? []).map((c) => bodyText(c).replace(/\n/g, ' ')).join('\t'));
      out.push('');
    } else if (node.type === 'horizontalRule') out.push('* * *', '');
    else if (['blockquote', 'noteBox', 'gallery', 'doc'].includes(node.type))
      for (const child of node.content ?? []) visit(child, node.type === 'blockquote' ? `${lead}> ` : lead);
    else {
      const text = inlineText(node);
      const href = String(node.attrs?.['href'] ?? '');
      if (text === '' && href === '') return;
      const lines = [...text.split('\n'), ...(href ? [href] : [])].filter((l, i) => i === 0 || l !== '');
      out.push(...lines.map((line, i) => (i === 0 ? lead : ' '.repeat(lead.length)) + line));
      if (node.type === 'heading')
        out.push(
          (Number(node.attrs?.['level']) === 2 ? '=' : '-').repeat(Math.max(...lines.map((l) => l.length))),
        );
      if (!/^\s*([-\d[]|$)/.test(lead) || lead === '') out.push('');
    }
  };
  visit(body, '');
  return `${out
    .join('\n')
    .replace(/\n{3,}/g, '\n\n')
    .trim()}\n`;
}

/** Names of the people who suggest something. */
type Makers = (personId: number) => string;

async function namesOf(db: Queryable, blogId: number): Promise<ReadonlyMap<number, string>> {
  const people = await db('people as p')
    .join('memberships as m', 'm.person_id', 'p.id')
    .where('m.blog_id', blogId)
    .select<{ id: number; name: string }[]>('p.id', 'p.name');
  return new Map(people.map((p) => [p.id, p.name]));
}

/**
 * A post as a file that others can open. `home` makes addresses of pictures whole. Where suggestions go along, words of
 * suggested blocks are suggested.
 */
export async function exportPost(
  db: Queryable,
  post: WholePostRow,
  { as, suggestions = false }: OutQuery,
  home: string,
): Promise<Exported> {
  const names = suggestions && post.suggested ? await namesOf(db, post.blog_id) : null;
  const makers: Makers | null = names && ((id) => names.get(id) ?? 'Somebody');
  const row = names ? { ...post, body: suggestedInWords(post.suggested!) } : post;
  const facts = await factsOf(db, row);
  const base = row.slug ?? `post-${row.id}`;
  const MAKE: Record<OutKind, () => Promise<Exported>> = {
    markdown: async () => ({
      name: `${base}.md`,
      type: 'text/markdown; charset=utf-8',
      data: Buffer.from(frontMatter(facts) + bodyMarkdown(row.body) + '\n'),
    }),
    html: async () => ({
      name: `${base}.html`,
      type: 'text/html; charset=utf-8',
      data: Buffer.from(await asHtml(db, facts, home, makers)),
    }),
    text: async () => ({
      name: `${base}.txt`,
      type: 'text/plain; charset=utf-8',
      data: Buffer.from([row.title, ...underTitle(row), '', plainText(row.body)].join('\n')),
    }),
    docx: async () => ({
      name: `${base}.docx`,
      type: 'application/vnd.openxmlformats-officedocument.wordprocessingml.document',
      data: await makeDocx(db, row, names),
    }),
  };
  return MAKE[as]();
}
