import type { ChangeKind, ChangesPage, ChangesQuery, ChangeView } from '@keyroster/contract';
import { initials } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import type { CurrentPerson } from '../http/current-person.js';
import { notFound } from '../http/problem.js';

const PAGE = 50;

type Row = Pick<ChangeView, 'id' | 'kind' | 'name' | 'at' | 'was' | 'became'> & {
  ofId: number;
  personId: number;
  personName: string;
  /** Somebody changed one of the same fields since. */
  overtaken: boolean;
};

/** A person's account and their page are two kinds of change of the same. */
const SAME: readonly ChangeKind[] = ['person', 'profile'];

const rows = (db: Queryable, blogId: number) =>
  db('changes as c')
    .join('people as p', 'p.id', 'c.person_id')
    .where('c.blog_id', blogId)
    .orderBy('c.id', 'desc')
    .select<Row[]>(
      db.raw('c.id::int as id'),
      'c.kind',
      'c.of_id as ofId',
      'c.name',
      'p.id as personId',
      'p.name as personName',
      'c.at',
      'c.was',
      'c.became',
      db.raw(
        `
          exists (
            select
              1
            from
              changes l
            where
              l.blog_id = c.blog_id
              and l.of_id = c.of_id
              and (l.kind = c.kind or (l.kind = any (:same) and c.kind = any (:same)))
              and l.id > c.id
              and (
                l.became is null
                or jsonb_exists_any(l.became, array(select jsonb_object_keys(c.was)))
              )
          ) as overtaken
        `,
        { same: [...SAME] },
      ),
    );

/** Nobody but themselves puts a subscriber on the list again. */
const isUndoable = ({ kind, was, became }: Row): boolean =>
  was !== null && became !== null && !(kind === 'subscriber' && 'left' in became);

const viewOf = (row: Row): ChangeView => ({
  id: row.id,
  kind: row.kind,
  name: row.name,
  by: { id: row.personId, name: row.personName, initials: initials(row.personName) },
  at: row.at,
  was: row.was,
  became: row.became,
  undoable: isUndoable(row) && !row.overtaken,
});

export async function listChanges(
  db: Queryable,
  { blogId }: Pick<CurrentPerson, 'blogId'>,
  { kind, before }: ChangesQuery,
): Promise<ChangesPage> {
  const found = await rows(db, blogId)
    .modify((query) => {
      if (kind) void query.where('c.kind', kind);
      if (before) void query.where('c.id', '<', before);
    })
    .limit(PAGE + 1);
  return {
    changes: found.slice(0, PAGE).map(viewOf),
    more: found.length > PAGE,
  };
}

/** One change of the log, to be undone. */
export async function findChange(db: Queryable, blogId: number, id: number) {
  const [row] = await rows(db, blogId).where('c.id', id);
  if (!row) throw notFound('That change');
  return { ...row, undoable: isUndoable(row) };
}

/** The last later change of the same thing that is about one of the same fields. */
export async function changedSince(
  db: Queryable,
  blogId: number,
  { id, kind, ofId, was }: Row,
): Promise<{ by: string; name: string } | undefined> {
  const [later] = await rows(db, blogId)
    .whereIn('c.kind', SAME.includes(kind) ? [...SAME] : [kind])
    .where('c.of_id', ofId)
    .where('c.id', '>', id)
    .whereRaw('(c.became is null or jsonb_exists_any(c.became, ?))', [Object.keys(was ?? {})])
    .limit(1);
  return later && { by: later.personName, name: later.name };
}
