import type { InHand, PersonPage, ProfileChanges, FieldValues } from '@keyroster/contract';
import { isLate, isZone, paceOf, roleMay } from '@keyroster/core';
import { listPeople, mustManageAccount } from '../accounts/people.js';
import { saveChange, type Change } from '../changes/save.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable } from '../db/connect.js';
import { ProblemError, notFound, notYours } from '../http/problem.js';
import { absencesOf } from '../planner/absences.js';
import { turnarounds } from '../posts/turnarounds.js';
import { onlyVisible } from '../posts/visible.js';
import { clockOf } from '../slots/clock.js';

/** What somebody has in hand, as far as the requester may see it, the soonest first. */
async function inHandOf(
  db: Queryable,
  asker: CurrentPerson,
  personId: number,
  nowLocal: string,
): Promise<InHand[]> {
  const rows = await onlyVisible(db('posts'), asker)
    .where('posts.blog_id', asker.blogId)
    .whereIn('posts.stage', ['commissioned', 'drafting', 'in review', 'cleared', 'scheduled'])
    .leftJoin('post_coauthors as c', (on) =>
      on.on('c.post_id', 'posts.id').andOn('c.person_id', db.raw('?', [personId])),
    )
    .where((w) =>
      w
        .where('posts.byline_id', personId)
        .orWhere('posts.editor_id', personId)
        .orWhere('posts.proofreader_id', personId)
        .orWhere('c.person_id', personId),
    )
    .orderByRaw('coalesce(posts.run_local, posts.copy_date), posts.id')
    .select<
      (Omit<InHand, 'as' | 'late'> & {
        bylineId: number | null;
        editorId: number | null;
        coauthor: number | null;
      })[]
    >(
      'posts.id as postId',
      'posts.title',
      'posts.stage',
      'posts.run_local as runLocal',
      'posts.copy_date as copyDate',
      'posts.byline_id as bylineId',
      'posts.editor_id as editorId',
      'c.person_id as coauthor',
    );
  return rows.map(({ bylineId, editorId, coauthor, ...post }) => ({
    ...post,
    as:
      bylineId === personId
        ? 'writer'
        : coauthor === personId
          ? 'co-author'
          : editorId === personId
            ? 'editor'
            : 'proofreader',
    late: isLate(post, nowLocal),
  }));
}

interface ProfileRow {
  zone: string | null;
  biography: string;
  pictureId: number | null;
  links: PersonPage['links'];
  notify: NonNullable<PersonPage['wishes']>['notify'];
  digestHour: number;
}

export async function personPage(db: Queryable, asker: CurrentPerson, personId: number): Promise<PersonPage> {
  const person = (await listPeople(db, asker)).find((p) => p.id === personId);
  if (!person) throw notFound('That person');
  const clock = await clockOf(db, asker.blogId);
  const { notify, digestHour, ...profile } = (await db('memberships')
    .where({ blog_id: asker.blogId, person_id: personId })
    .first<ProfileRow>(
      'zone',
      'biography',
      'picture_id as pictureId',
      'links',
      'notify',
      'digest_hour as digestHour',
    ))!;
  const writes = await db('writer_categories')
    .where({ blog_id: asker.blogId, person_id: personId })
    .orderBy('category_id')
    .pluck<number[]>('category_id');
  const [{ released } = { released: 0 }] = await db('posts')
    .where({ blog_id: asker.blogId, byline_id: personId, stage: 'published' })
    .select<{ released: number }[]>(db.raw('count(*)::int as released'));
  return {
    ...person,
    ...profile,
    writes,
    absences: await absencesOf(db, asker.blogId, personId, clock.today),
    inHand: await inHandOf(db, asker, personId, clock.nowLocal),
    released,
    pace: paceOf(await turnarounds(db, asker.blogId, clock.zone)).of(personId),
    wishes: personId === asker.id ? { notify, digestHour } : null,
  };
}

/** Changes what a person says of themselves; how somebody wishes to hear of things is theirs alone to say. */
export async function changeProfile(
  change: Change,
  personId: number,
  { name, pictureId, links, digestHour, ...changes }: ProfileChanges,
): Promise<PersonPage> {
  const { trx, person: by } = change;
  const own = personId === by.id;
  if (!own && !roleMay(by.role, 'managePeople')) throw notYours('Changing somebody else’s page');
  if (!own && (changes.notify !== undefined || digestHour !== undefined))
    throw notYours('Saying how somebody else wishes to hear of things');
  const member = { blog_id: by.blogId, person_id: personId };
  const changed = {
    kind: 'profile' as const,
    id: personId,
    read: async (): Promise<PersonPage & FieldValues> => ({ ...(await personPage(trx, by, personId)) }),
    name: (page: PersonPage) => page.name,
  };
  return saveChange(change, changed, async () => {
    if (changes.zone && !isZone(changes.zone)) throw new ProblemError('invalid', 'That is no time zone.');
    if (pictureId && !(await trx('media').where({ blog_id: by.blogId, id: pictureId }).first('id')))
      throw new ProblemError('invalid', 'That picture is not in the library.');
    if (name !== undefined) await mustManageAccount(trx, by, personId);
    if (name !== undefined) await trx('people').where({ id: personId }).update({ name });
    const fields = {
      ...changes,
      ...(pictureId === undefined ? {} : { picture_id: pictureId }),
      ...(links === undefined ? {} : { links: JSON.stringify(links) }),
      ...(digestHour === undefined ? {} : { digest_hour: digestHour }),
    };
    if (Object.keys(fields).length > 0) await trx('memberships').where(member).update(fields);
  });
}
