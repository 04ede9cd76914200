import type {
  FieldValues,
  LetterChanges,
  LetterDoubt,
  LetterPreview,
  LetterView,
  NewLetter,
} from '@keyroster/contract';
import { formatList, may } from '@keyroster/core';
import { lockSeen, saveAddition, saveChange, saveRemoval, type Change } from '../changes/save.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError, notFound } from '../http/problem.js';
import { planLetter } from '../jobs/queue.js';
import { emit } from '../live/live.js';
import { factsOf, postRows } from '../posts/store.js';
import type { Settings } from '../settings.js';
import { buildLetter, type BuiltLetter } from './build.js';
import { postIdsOf, seeLetter, type LetterRow } from './store.js';

export const notifyLetter = (trx: Trx, blogId: number, personId: number | null = null): Promise<void> =>
  emit(trx, { blogId, kind: 'letter', personId });

/** The letter, held until the transaction ends. */
async function lockLetter(
  trx: Trx,
  { blogId }: Pick<CurrentPerson, 'blogId'>,
  id: number,
): Promise<LetterRow> {
  const row = await trx('letters').where({ blog_id: blogId, id }).forUpdate().first<LetterRow | undefined>();
  if (!row) throw notFound('That letter');
  return row;
}

function mustBe(row: LetterRow, ...states: LetterRow['state'][]): void {
  if (!states.includes(row.state))
    throw new ProblemError(
      'no-such-move',
      {
        draft: 'This letter is a draft.',
        sending: 'This letter is being sent.',
        stopped: 'This letter was stopped.',
        sent: 'This letter is out; it stays as it was sent.',
      }[row.state],
    );
}

/** A letter is made of what its maker may see. */
async function mustSee(
  trx: Trx,
  person: CurrentPerson,
  ids: readonly number[],
): Promise<{ title: string }[]> {
  const rows = await postRows(trx)
    .where('posts.blog_id', person.blogId)
    .whereIn('posts.id', [...ids]);
  const seen = ids.map((id) => rows.find((p) => p.id === id && may(person, 'see', factsOf(p))));
  if (seen.some((p) => p === undefined)) throw notFound('One of those posts');
  return seen as { title: string }[];
}

async function putPosts(trx: Trx, letterId: number, ids: readonly number[]): Promise<void> {
  await trx('letter_posts').where({ letter_id: letterId }).delete();
  if (ids.length > 0)
    await trx('letter_posts').insert(
      ids.map((post_id, position) => ({ letter_id: letterId, post_id, position })),
    );
}

/** A draft with the title of its first post as its subject. */
export async function addLetter(
  trx: Trx,
  person: CurrentPerson,
  { postIds }: NewLetter,
): Promise<LetterView> {
  const [first] = await mustSee(trx, person, postIds);
  const [row] = await trx('letters')
    .insert({ blog_id: person.blogId, subject: (first?.title ?? '').slice(0, 150), made_by: person.id })
    .returning<{ id: number }[]>('id');
  await putPosts(trx, row!.id, postIds);
  await saveAddition({ trx, person }, changedLetter(trx, person, row!.id));
  return seeLetter(trx, person, row!.id);
}

/** A letter while it can be changed. */
const changedLetter = (trx: Trx, person: CurrentPerson, id: number) => ({
  kind: 'letter' as const,
  id,
  read: async (): Promise<LetterChanges & FieldValues> => {
    const row = await lockLetter(trx, person, id);
    mustBe(row, 'draft');
    const { subject, intro, whole } = row;
    return { subject, intro, whole, postIds: await postIdsOf(trx, id) };
  },
  name: ({ subject }: LetterChanges) => subject || 'a letter without a subject',
});

/** Changes what is given of a letter. */
export async function changeLetter(
  change: Change,
  id: number,
  changes: Partial<LetterChanges>,
): Promise<LetterView> {
  const { trx, person } = change;
  await saveChange(change, changedLetter(trx, person, id), async (before) => {
    const { subject, intro, whole, postIds } = { ...before, ...changes };
    await mustSee(trx, person, postIds);
    await trx('letters').where({ id }).update({ subject, intro, whole, note: '' });
    await putPosts(trx, id, postIds);
  });
  return seeLetter(trx, person, id);
}

export async function removeLetter(change: Change, id: number): Promise<null> {
  const { trx, person } = change;
  await saveRemoval(change, changedLetter(trx, person, id), () => trx('letters').where({ id }).delete());
  return null;
}

/** As it would go out now, or as it went. */
export async function builtLetter(
  db: Queryable,
  person: CurrentPerson,
  id: number,
  settings: Pick<Settings, 'publicUrl'>,
): Promise<BuiltLetter> {
  const row = await db('letters').where({ blog_id: person.blogId, id }).first<LetterRow | undefined>();
  if (!row) throw notFound('That letter');
  return row.content ?? buildLetter(db, { ...row, blogId: row.blog_id }, await postIdsOf(db, id), settings);
}

/** A picture that counts, and links that are counted, lead nowhere here: nothing is counted by looking. */
export async function previewLetter(
  db: Queryable,
  person: CurrentPerson,
  id: number,
  settings: Pick<Settings, 'publicUrl'>,
): Promise<LetterPreview> {
  const { subject, html, text } = await builtLetter(db, person, id, settings);
  return { subject, html: html.replace(/<img src="[^"]*\/letter\/seen\/[^"]*"[^>]*>\n?/, ''), text };
}

/** Begins sending: from now on the letter stays as it is built, and each subscriber of this moment has a row. */
export async function beginSending(
  trx: Trx,
  letter: Pick<LetterRow, 'id' | 'blog_id'>,
  content: BuiltLetter,
  personId: number | null,
): Promise<number> {
  await trx('letters')
    .where({ id: letter.id })
    .update({
      state: 'sending',
      content: JSON.stringify(content),
      sent_by: personId,
      begun_at: trx.fn.now(),
      note: '',
      version: trx.raw('version + 1'),
    });
  const { rows } = await trx.raw<{ rows: { n: number }[] }>(
    `
      with
        put as (
          insert into
            letter_sends (letter_id, subscriber_id)
          select
            ?,
            id
          from
            subscribers
          where
            blog_id = ?
            and state = 'active'
          order by
            id
          returning
            1
        )
      select
        count(*)::int as n
      from
        put
    `,
    [letter.id, letter.blog_id],
  );
  await planLetter(trx, letter.id);
  await notifyLetter(trx, letter.blog_id, personId);
  return rows[0]!.n;
}

/** Nothing goes out, nor goes on, of what not everybody may read by now. */
async function mustBeOpen(trx: Trx, { id, posts }: LetterView): Promise<void> {
  const withheld = posts.filter((p) => p.withheld !== '');
  if (withheld.length === 0 && (await postIdsOf(trx, id)).length === posts.length) return;
  const them = withheld.length === 1 ? 'it' : 'them';
  const sentence =
    withheld.length === 0
      ? 'A post of this letter is no longer published. Remove it, then send the letter.'
      : `Not everybody may read ${formatList(withheld.map((p) => `“${p.title}”`))}. Remove ${them}, or wait ` +
        `until readers see ${them}.`;
  throw new ProblemError('demands', sentence, { fields: [{ field: 'postIds', sentence }] });
}

/** Sends a letter as it was seen. */
export async function sendToAll(change: Change, id: number, settings: Settings): Promise<LetterView> {
  const { trx, person } = change;
  if (!settings.mailServer)
    throw new ProblemError('demands', 'No mail server is set up (MAIL_SERVER): nothing can be sent.');
  await lockSeen(change, changedLetter(trx, person, id), 'it is not sent');
  const row = await lockLetter(trx, person, id);
  const before = await seeLetter(trx, person, id);
  const refuse = (sentence: string, field: string) => {
    throw new ProblemError('demands', sentence, { fields: [{ field, sentence }] });
  };
  if (row.subject === '') refuse('A letter needs a subject.', 'subject');
  if (before.posts.length === 0 && row.intro === '') refuse('There is nothing in this letter yet.', 'intro');
  await mustBeOpen(trx, before);
  if (before.subscribers === 0) refuse('Nobody is on the list who has confirmed it.', 'subscribers');
  const content = await builtLetter(trx, person, id, settings);
  await beginSending(trx, row, content, person.id);
  return seeLetter(trx, person, id);
}

export async function stopLetter(trx: Trx, person: CurrentPerson, id: number): Promise<LetterView> {
  mustBe(await lockLetter(trx, person, id), 'sending');
  await trx('letters').where({ id }).update({ state: 'stopped' });
  await notifyLetter(trx, person.blogId, person.id);
  return seeLetter(trx, person, id);
}

export async function resumeLetter(trx: Trx, person: CurrentPerson, id: number): Promise<LetterView> {
  mustBe(await lockLetter(trx, person, id), 'stopped');
  await mustBeOpen(trx, await seeLetter(trx, person, id));
  await trx('letters')
    .where({ id })
    .update({
      state: 'sending',
      note: '',
      tries: 0,
      trouble_since: null,
      resumed_at: trx.raw('clock_timestamp()'),
    });
  await planLetter(trx, id);
  await notifyLetter(trx, person.blogId, person.id);
  return seeLetter(trx, person, id);
}

/** Those who may have it get it, perhaps a second time; or are skipped, and count as having it. */
export async function settleDoubt(
  trx: Trx,
  person: CurrentPerson,
  id: number,
  { again }: LetterDoubt,
): Promise<LetterView> {
  const row = await lockLetter(trx, person, id);
  mustBe(row, 'sent', 'stopped', 'sending');
  if (again) await mustBeOpen(trx, await seeLetter(trx, person, id));
  const settled = await trx('letter_sends')
    .where({ letter_id: id, state: 'unsure' })
    .update(again ? { state: 'waiting', fault: '' } : { state: 'sent', fault: '' });
  if (settled === 0) throw new ProblemError('gone', 'Everybody in doubt has been dealt with already.');
  if (again && row.state === 'sent') await trx('letters').where({ id }).update({ state: 'sending' });
  if (again && row.state !== 'stopped') await planLetter(trx, id);
  await notifyLetter(trx, person.blogId, person.id);
  return seeLetter(trx, person, id);
}
