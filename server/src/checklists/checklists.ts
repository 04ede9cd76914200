import type { ChecklistView, FieldValues, NewChecklist } from '@keyroster/contract';
import { mustBelong } from '../accounts/people.js';
import { saveAddition, saveChange, saveRemoval, type Change } from '../changes/save.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError, notFound } from '../http/problem.js';
import { attachTo, postsUnderWay } from './attach.js';

/** Checklists that a blog can have. */
const MAX_CHECKLISTS = 60;

export async function listChecklists(db: Queryable, blogId: number, only?: number): Promise<ChecklistView[]> {
  const query = db('checklists as c')
    .where('c.blog_id', blogId)
    .orderBy('c.name')
    .select<ChecklistView[]>(
      'c.id',
      'c.name',
      'c.version',
      db.raw(
        'array(select format_id from checklist_formats f where f.checklist_id = c.id order by 1) as formats',
      ),
      db.raw(
        'array(select category_id from checklist_categories g where g.checklist_id = c.id order by 1) as categories',
      ),
      db.raw(
        `
          coalesce(
            (
              select
                json_agg(
                  json_build_object(
                    'id',
                    i.id,
                    'text',
                    i.text,
                    'assignee',
                    i.assignee,
                    'personId',
                    i.person_id,
                    'daysBefore',
                    i.days_before,
                    'holds',
                    i.holds
                  )
                  order by
                    i.position
                )
              from
                checklist_items i
              where
                i.checklist_id = c.id
            ),
            '[]'
          ) as items
        `,
      ),
    );
  if (only !== undefined) void query.where('c.id', only);
  return query;
}

export async function addChecklist(
  trx: Trx,
  person: CurrentPerson,
  input: NewChecklist,
): Promise<ChecklistView> {
  await trx('blogs').where({ id: person.blogId }).forNoKeyUpdate().first('id');
  const known = await trx('checklists').where({ blog_id: person.blogId }).pluck<number[]>('id');
  if (known.length >= MAX_CHECKLISTS)
    throw new ProblemError('too-large', `At most ${MAX_CHECKLISTS} checklists fit on a blog.`);
  const [row] = await trx('checklists')
    .insert({ blog_id: person.blogId, name: input.name })
    .returning<{ id: number }[]>('id');
  await store(trx, person, row!.id, input);
  return saveAddition({ trx, person }, changedChecklist(trx, person, row!.id));
}

const changedChecklist = (trx: Trx, { blogId }: CurrentPerson, id: number) => ({
  kind: 'checklist' as const,
  id,
  read: async (): Promise<ChecklistView & FieldValues> => {
    const [list] = await listChecklists(trx, blogId, id);
    if (!list) throw notFound('That checklist');
    return { ...list };
  },
  name: ({ name }: ChecklistView) => name,
});

/** Changes some of a checklist; the rest of it stays. */
export function changeChecklist(
  change: Change,
  id: number,
  changes: Partial<NewChecklist>,
): Promise<ChecklistView> {
  const { trx, person } = change;
  return saveChange(change, changedChecklist(trx, person, id), async (before) => {
    const { name, formats, categories, items } = { ...before, ...changes };
    await trx('checklists').where({ id }).update({ name });
    await store(trx, person, id, { name, formats, categories, items });
  });
}

async function store(
  trx: Trx,
  person: CurrentPerson,
  id: number,
  { formats, categories, items }: NewChecklist,
): Promise<void> {
  const { blogId } = person;
  for (const item of items) await mustBelong(trx, blogId, item.personId);
  const present = await trx('checklist_items').where({ checklist_id: id }).pluck<number[]>('id');
  const kept = items.flatMap((i) => (i.id !== null && present.includes(i.id) ? [i.id] : []));
  await dropUndone(trx, { items: present.filter((p) => !kept.includes(p)) });
  await trx('checklist_items').where({ checklist_id: id }).whereNotIn('id', kept).delete();
  for (const [position, { id: itemId, ...item }] of items.entries()) {
    const row = {
      position,
      text: item.text,
      assignee: item.assignee,
      person_id: item.personId,
      days_before: item.daysBefore,
      holds: item.holds,
    };
    if (itemId !== null && kept.includes(itemId)) {
      const { position: _, ...rule } = row;
      await trx('checklist_items').where({ id: itemId }).update(row);
      // What is not done yet follows the checklist; what is done stays as it was done.
      // A scheduled post is held by nothing that was not there when it was scheduled.
      const { holds, ...others } = rule;
      await trx('chores').where({ item_id: itemId }).whereNull('done_at').update(others);
      await trx('chores')
        .where({ item_id: itemId })
        .whereNull('done_at')
        .whereNotExists((q) =>
          q.from('posts as p').whereRaw(`p.id = chores.post_id and p.stage = 'scheduled' and ?`, [holds]),
        )
        .update({ holds });
    } else await trx('checklist_items').insert({ checklist_id: id, ...row });
  }
  await trx('checklist_formats').where({ checklist_id: id }).delete();
  await trx('checklist_categories').where({ checklist_id: id }).delete();
  if (formats.length > 0)
    await trx('checklist_formats').insert(
      formats.map((format_id) => ({ blog_id: blogId, checklist_id: id, format_id })),
    );
  if (categories.length > 0)
    await trx('checklist_categories').insert(
      categories.map((category_id) => ({ blog_id: blogId, checklist_id: id, category_id })),
    );
  await attachTo(trx, blogId, await postsUnderWay(trx, blogId));
}

async function dropUndone(trx: Trx, { items }: { items: readonly number[] }): Promise<void> {
  await trx('chores').whereIn('item_id', items).whereNull('done_at').delete();
}

export async function removeChecklist(change: Change, id: number): Promise<null> {
  const { trx } = change;
  await saveRemoval(change, changedChecklist(trx, change.person, id), async () => {
    await dropUndone(trx, {
      items: await trx('checklist_items').where({ checklist_id: id }).pluck<number[]>('id'),
    });
    await trx('checklists').where({ id }).delete();
  });
  return null;
}
