import { bodyWords, keyOf, type BodyNode } from '@keyroster/core';
import { editPost, findPerson, lockPost } from '@keyroster/server';
import { daysBefore } from './days.js';
import type { Loading } from './loading.js';

const paragraph = (text: string): BodyNode => ({ type: 'paragraph', content: [{ type: 'text', text }] });

/** What a text was before, the oldest first: made from the text as it stands, by whom, and how long ago. */
interface Draft {
  by: string;
  daysAgo: number;
  of(blocks: readonly BodyNode[]): BodyNode[];
}

/** Drafts of the demo's texts, by the keys of their texts. */
const DRAFTS: Record<string, Draft[]> = {
  'long-pound': [
    {
      by: 'RA',
      daysAgo: 6,
      of: (blocks) => [
        paragraph(
          'Last year I wrote about the fog on the Long Pound. Readers asked what it sounds like, so I went back with a recorder in a sock.',
        ),
        ...blocks.slice(2, 4),
      ],
    },
    {
      by: 'RA',
      daysAgo: 4,
      of: (blocks) => [
        ...blocks.slice(0, 4),
        paragraph(
          'There were also two geese, who do not count, because they are there every day and say so.',
        ),
        ...blocks.slice(4, 6),
      ],
    },
    {
      by: 'ET',
      daysAgo: 1.2,
      of: (blocks) => blocks.filter((_, i) => i !== 6 && i !== 7),
    },
  ],
};

/** Whether a text has drafts: its post begins with the first of them. */
export function firstDraft(key: string | null, body: BodyNode): BodyNode {
  const [first] = DRAFTS[key ?? ''] ?? [];
  return first ? { ...body, content: first.of(body.content ?? []) } : body;
}

/** Writes the later drafts of a post up to its text, each by its person at its time. */
export async function writeDrafts(
  to: Loading,
  key: string | null,
  postId: number,
  body: BodyNode,
): Promise<void> {
  const [first, ...later] = DRAFTS[key ?? ''] ?? [];
  if (!first) return;
  const last: Draft = { by: later.at(-1)?.by ?? first.by, daysAgo: 1, of: (blocks) => [...blocks] };
  const at = [daysBefore(to.now, first.daysAgo)];
  for (const draft of [...later, last]) {
    const text = { ...body, content: draft.of(body.content ?? []) };
    const person = (await findPerson(to.trx, to.people.get(draft.by)!, to.blogId))!;
    const row = (await lockPost(to.trx, to.blogId, postId))!;
    await editPost(to.trx, row, person, { kind: 'text', body: text, words: bodyWords(text), shared: true });
    at.push(daysBefore(to.now, draft.daysAgo));
  }
  for (const [i, when] of at.entries())
    await to
      .trx('post_versions')
      .where({ post_id: postId, version: i + 1 })
      .update({ at: when });
  await to.trx('post_versions').where({ post_id: postId, version: 2 }).update({ name: 'With the geese' });
  await to
    .trx('posts')
    .where({ id: postId })
    .update({ updated_at: at.at(-1) });
}

/** What the proofreader suggests in texts, by the keys of their texts: words that go, and words that come. */
const SUGGESTED: Record<string, [was: string, becomes: string][]> = {
  'long-pound': [
    ['and was asked by eleven readers', 'and eleven readers asked me'],
    ['There is a fox.', 'There is a fox, once.'],
    [', before nine', ''],
  ],
};

/** Has the proofreader suggest a few corrections, some hours ago. */
export async function suggestCorrections(to: Loading, key: string | null, postId: number): Promise<void> {
  const suggested = SUGGESTED[key ?? ''];
  if (!suggested) return;
  const person = (await findPerson(to.trx, to.people.get('CF')!, to.blogId))!;
  const row = (await lockPost(to.trx, to.blogId, postId))!;
  const when = daysBefore(to.now, 0.2);
  const at = `${when.slice(0, 16)}Z`;
  const body = suggested.reduce(
    (now, [was, becomes], i) =>
      withSuggestion(now, was, becomes, keyOf({ personId: person.id, at, id: String(i + 1) })),
    row.body,
  );
  await editPost(to.trx, row, person, { kind: 'text', body, words: row.words, shared: true });
  await to
    .trx('post_versions')
    .where({ post_id: postId, version: row.version + 1 })
    .update({ at: when });
}

/** A text with words suggested to become others, where they stand in one run. */
function withSuggestion(node: BodyNode, was: string, becomes: string, key: string): BodyNode {
  const content = node.content?.flatMap((child) => {
    const at = child.text?.indexOf(was) ?? -1;
    if (at < 0) return [withSuggestion(child, was, becomes, key)];
    const marked = (text: string, type: 'inserted' | 'deleted') => ({
      ...child,
      text,
      marks: [...(child.marks ?? []), { type, attrs: { key } }],
    });
    return [
      { ...child, text: child.text!.slice(0, at) },
      marked(was, 'deleted'),
      ...(becomes === '' ? [] : [marked(becomes, 'inserted')]),
      { ...child, text: child.text!.slice(at + was.length) },
    ].filter((run) => run.text !== '');
  });
  return content ? { ...node, content } : node;
}

/** A correction of a published post that waits to be put before its readers. */
export async function correctPublished(to: Loading): Promise<void> {
  const found = await to
    .trx('posts')
    .where({ blog_id: to.blogId, title: 'She kept the gates for forty years' })
    .first<{ id: number }>('id');
  const person = (await findPerson(to.trx, to.people.get('MW')!, to.blogId))!;
  const row = (await lockPost(to.trx, to.blogId, found!.id))!;
  const body = JSON.parse(
    JSON.stringify(row.body).replace(
      'She is ninety-three now and lives where she can see it.',
      'She was ninety-four in October and lives where she can see it.',
    ),
  ) as BodyNode;
  await editPost(
    to.trx,
    row,
    person,
    { kind: 'text', body, words: bodyWords(body) },
    {
      kind: 'set',
      values: {
        excerpt: 'Winnie Carrow took on Halfway Lock for a fortnight in 1951 and stayed until 1991.',
      },
    },
  );
}
