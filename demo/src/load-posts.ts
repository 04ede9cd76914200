import { addDays, bodyText, countWords, meaningOf, proposeSlug, type BodyNode } from '@keyroster/core';
import { findPerson, lockPost, addNote, adoptPost, readMarkdown, tagIdsOf } from '@keyroster/server';
import { FORMATS, tagsFor, valuesFor } from './desk.js';
import { daysBefore } from './days.js';
import type { Loading } from './loading.js';
import { loadPassage, passageOf } from './paces.js';
import { firstDraft, writeDrafts } from './history.js';
import { CATEGORIES, PEOPLE } from './people.js';
import { pictureAlt } from './pictures.js';
import { pastDates } from './plan.js';
import { readTexts, type DemoText } from './texts.js';

export const ZONE = 'Europe/London';

interface NewRow {
  text: DemoText;
  stage: string;
  categoryId: number | null;
  runLocal?: string;
  createdAt: string;
  stageSince?: string;
  fields?: Record<string, unknown>;
}

export async function insertPost(to: Loading, row: NewRow): Promise<number> {
  const { trx, blogId } = to;
  const body = row.text.markdown
    ? readMarkdown(row.text.markdown).body
    : { type: 'doc', content: [{ type: 'paragraph' }] };
  const withFold = foldAfterFirst(body);
  const draft = firstDraft(row.text.key, withFold);
  const plain = bodyText(draft);
  const meaning = row.runLocal ? meaningOf(row.runLocal, ZONE) : null;
  const runAt = meaning?.kind === 'exact' ? meaning.at : meaning?.choices[0].at;
  const hasSlug = ['cleared', 'scheduled', 'published', 'withdrawn'].includes(row.stage);
  const slug = hasSlug
    ? proposeSlug(row.text.title, (a) => to.slugs.has(a), [row.text.excerpt], row.runLocal?.slice(0, 4))
    : null;
  if (slug) to.slugs.add(slug);
  const [made] = await trx('posts')
    .insert({
      blog_id: blogId,
      stage: row.stage,
      title: row.text.title,
      excerpt: row.text.excerpt,
      slug,
      category_id: row.categoryId,
      byline_id: personNamed(to, row.text.by),
      body: JSON.stringify(draft),
      body_text: plain,
      words: countWords(plain),
      created_by: personNamed(to, row.text.by) ?? to.people.get('MW'),
      created_at: row.createdAt,
      updated_at: row.stageSince ?? row.createdAt,
      stage_since: row.stageSince ?? row.createdAt,
      ...(row.text.picture
        ? { lead_media_id: to.pictures.get(row.text.picture), lead_alt: pictureAlt(row.text.picture) }
        : {}),
      ...(runAt ? { run_local: row.runLocal, run_zone: ZONE, run_at: runAt } : {}),
      ...(row.stage === 'published' || row.stage === 'withdrawn' ? { released_at: runAt } : {}),
      ...row.fields,
    })
    .returning<{ id: number }[]>('id');
  const tagIds = await tagIdsOf(trx, blogId, tagsFor(`${row.text.title} ${row.text.markdown}`));
  if (tagIds.length > 0)
    await trx('post_tags').insert(tagIds.map((tag_id) => ({ blog_id: blogId, post_id: made!.id, tag_id })));
  await adoptPost(trx, blogId, made!.id, personNamed(to, row.text.by));
  await writeDrafts(to, row.text.key, made!.id, withFold);
  if (row.stage === 'published') {
    // As often read as its title is long or short, and a little by chance, the same every time.
    const usual =
      90 + Math.round(420 / (1 + Math.abs(row.text.title.length - 34) / 12)) + ((made!.id * 53) % 110);
    // One category is liked better than the others, and one less.
    const reads = Math.round(usual * (row.categoryId === likedBest(to) ? 1.5 : 1));
    await trx('post_reads').insert(
      readsOf(row.runLocal!.slice(0, 10), to.nowLocal.slice(0, 10), reads).map((on) => ({
        post_id: made!.id,
        ...on,
      })),
    );
    // The clock of a server that was up: out within a fifth of a second.
    const out = new Date(Date.parse(runAt!) + 40 + ((made!.id * 37) % 160)).toISOString();
    await trx('release_log').insert({
      blog_id: blogId,
      post_id: made!.id,
      planned_local: row.runLocal,
      planned_at: runAt,
      due_at: runAt,
      released_at: out,
      backdated: false,
    });
  }
  return made!.id;
}

/** Longer texts get a fold line after their opening. */
function foldAfterFirst(body: BodyNode): BodyNode {
  const blocks = body.content ?? [];
  return blocks.length > 4
    ? { ...body, content: [blocks[0]!, { type: 'foldLine' }, ...blocks.slice(1)] }
    : body;
}

function personNamed(to: Loading, name: string): number | null {
  const seed = PEOPLE.find((p) => p.name === name);
  return seed ? to.people.get(seed.key)! : null;
}

export async function loadPublished(to: Loading): Promise<void> {
  for (const c of CATEGORIES) {
    const texts = readTexts(c.texts);
    // Full articles are spread over the year, two of them among the newest.
    const full = texts.filter((t) => t.picture);
    const short = texts.filter((t) => !t.picture);
    const order = [
      full[0]!,
      short[0]!,
      short[1]!,
      full[1]!,
      ...short.slice(2, 9),
      full[2]!,
      ...short.slice(9, 16),
      full[3]!,
      ...short.slice(16),
    ];
    const dates = pastDates(c.weekday, c.time, to.nowLocal, order.length);
    for (const [i, text] of order.entries()) {
      const runLocal = `${dates[i]!}T${c.time}:00`;
      const writerId = personNamed(to, text.by)!;
      const passage = passageOf(keyOfPerson(to, writerId), i, runLocal);
      const postId = await insertPost(to, {
        text,
        stage: 'published',
        categoryId: to.categories.get(c.name)!,
        runLocal,
        createdAt: daysBefore(`${runLocal}Z`, 21),
        stageSince: `${runLocal}Z`,
        fields: { ...inFormat(to, c.format, text), copy_date: passage.copyDate },
      });
      await loadPassage(to, postId, runLocal, writerId, passage);
    }
  }
}

const keyOfPerson = (to: Loading, id: number): string =>
  [...to.people].find(([, known]) => known === id)?.[0] ?? '';

/** Full articles of a category with a format have its fields filled. */
function inFormat(to: Loading, format: string, text: DemoText): Record<string, unknown> {
  const known = FORMATS.find((f) => f.name.toLowerCase() === format);
  if (!known || !text.picture) return {};
  return {
    format_id: to.formats.get(known.name),
    format_values: JSON.stringify(valuesFor(known.name, text)),
    search_description:
      `${text.excerpt} By ${text.by}, who has done it often enough to say what goes wrong.`.slice(0, 160),
  };
}

/** Notes and moves that make the unfinished posts look worked on. */
export async function loadConversation(to: Loading, key: string, postId: number): Promise<void> {
  const say = async (who: string, text: string, exact?: string, parentId?: number) => {
    const person = (await findPerson(to.trx, to.people.get(who)!, to.blogId))!;
    const post = (await lockPost(to.trx, to.blogId, postId))!;
    return (
      await addNote(to.trx, post, person, {
        text,
        passage: exact ? { exact, prefix: '', suffix: '' } : null,
        parentId: parentId ?? null,
      })
    ).id;
  };
  const move = (from: string, toStage: string, who: string, daysAgo: number, note = '') =>
    to.trx('stage_moves').insert({
      blog_id: to.blogId,
      post_id: postId,
      from_stage: from,
      to_stage: toStage,
      person_id: to.people.get(who),
      note,
      at: daysBefore(to.now, daysAgo),
    });
  if (key === 'keepers-2') {
    await move('drafting', 'in review', 'IN', 4);
    await move('in review', 'drafting', 'ET', 2, 'Lovely start. Four clocks need four times.');
    await say(
      'ET',
      'Lovely start. Four clocks need four times: please ask Odette before Friday.',
      'find out from Odette: which one was fast?',
    );
    await say('MW', 'The museum at Gannet may have the winding books.');
  }
  if (key === 'long-pound') {
    await move('drafting', 'in review', 'RA', 1);
    const id = await say(
      'CF',
      '@Rosalind, which is it? I would leave both in.',
      'three people have now told me is a water rail and one has told me is a gate',
    );
    await say('RA', 'Both, then. It is a gate.', undefined, id);
  }
  if (key === 'galley-2') await say('HB', 'Copy was due, @Mara. Shall I move it a week?');
}

/** Which part of a post's reads comes on each day from its release on: most at once, then ever less. */
const DAILY = [0.38, 0.17, 0.1, 0.07, 0.05, 0.04, 0.03];
/** What is left is read by and by, so many days apart. */
const LATER = { every: 5, times: 12 };

/** Reads of a post by day, up to today. */
function readsOf(released: string, today: string, reads: number): { day: string; reads: number }[] {
  const first = DAILY.map((share, i) => ({ day: addDays(released, i), reads: Math.round(share * reads) }));
  const rest = reads - first.reduce((sum, d) => sum + d.reads, 0);
  const later = Array.from({ length: LATER.times }, (_, i) => ({
    day: addDays(released, DAILY.length + i * LATER.every),
    reads: Math.floor(rest / LATER.times),
  }));
  return [...first, ...later].filter((d) => d.day <= today && d.reads > 0);
}

const likedBest = (to: Loading): number => to.categories.get('Lock-keepers')!;
