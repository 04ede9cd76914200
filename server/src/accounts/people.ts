import type { NewPerson, PersonChanges, PersonRef, PersonView, SetUp } from '@keyroster/contract';
import { initials, roleMay, type Role } from '@keyroster/core';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError, notFound, notYours } from '../http/problem.js';
import { emit } from '../live/live.js';
import { saveChange, type Change } from '../changes/save.js';
import type { CurrentPerson } from '../http/current-person.js';
import { findPerson } from './who.js';

export function personRef(row: { id: number; name: string }): PersonRef {
  return { id: row.id, name: row.name, initials: initials(row.name) };
}

/** Addresses are told to those who manage people, and to everybody their own. */
export async function listPeople(db: Queryable, asker: CurrentPerson): Promise<PersonView[]> {
  const rows = await db('memberships as m')
    .join('people as p', 'p.id', 'm.person_id')
    .where('m.blog_id', asker.blogId)
    .orderBy('p.name')
    .select<
      {
        id: number;
        name: string;
        email: string;
        role: Role;
        active: boolean;
        categories: number[];
        capacity: number | null;
        version: number;
      }[]
    >(
      'p.id',
      'p.name',
      'p.email',
      'p.active',
      'm.role',
      'm.capacity',
      'm.version',
      db.raw(
        `
          array(
            select
              category_id
            from
              editor_categories e
            where
              e.person_id = p.id
              and e.blog_id = m.blog_id
            order by
              1
          ) as categories
        `,
      ),
    );
  const manages = roleMay(asker.role, 'managePeople');
  return rows.map((row) => ({
    ...row,
    ...personRef(row),
    email: manages || row.id === asker.id ? row.email : null,
  }));
}

/** Does this person belong to the blog? Throws a sentence when not. */
export async function mustBelong(
  db: Queryable,
  blogId: number,
  personId: number | null | undefined,
): Promise<void> {
  if (personId === null || personId === undefined) return;
  const row = await db('memberships')
    .where({ blog_id: blogId, person_id: personId })
    .whereNot({ role: 'reader' })
    .first('person_id');
  if (!row) throw new ProblemError('invalid', 'That person is not in this newsroom.');
}

/** Throws a sentence where a category is not one of the blog's. */
export async function mustBeCategories(
  db: Queryable,
  blogId: number,
  categories: readonly number[],
): Promise<void> {
  const known = await db('categories').where({ blog_id: blogId }).pluck<number[]>('id');
  if (categories.some((id) => !known.includes(id)))
    throw new ProblemError('invalid', 'That category is not on this blog.');
}

async function giveCategories(
  trx: Trx,
  blogId: number,
  personId: number,
  role: Role,
  categories: readonly number[],
): Promise<void> {
  await trx('editor_categories').where({ blog_id: blogId, person_id: personId }).delete();
  if (role !== 'editor' || categories.length === 0) return;
  await mustBeCategories(trx, blogId, categories);
  await trx('editor_categories').insert(
    categories.map((category_id) => ({ blog_id: blogId, person_id: personId, category_id })),
  );
}

async function giveWrites(
  trx: Trx,
  blogId: number,
  personId: number,
  categories: readonly number[],
): Promise<void> {
  await mustBeCategories(trx, blogId, categories);
  await trx('writer_categories').where({ blog_id: blogId, person_id: personId }).delete();
  if (categories.length > 0)
    await trx('writer_categories').insert(
      categories.map((category_id) => ({ blog_id: blogId, person_id: personId, category_id })),
    );
}

/** Makes an account on a blog. `passwordHash` is made before the transaction: see `hashPassword`. */
export async function addPerson(
  trx: Trx,
  blogId: number,
  input: Omit<NewPerson, 'password'>,
  passwordHash: string,
): Promise<number> {
  const id = await newAccount(trx, input, passwordHash);
  await joinBlog(trx, blogId, id, input);
  return id;
}

/** Puts an account on a blog. */
export async function joinBlog(
  trx: Trx,
  blogId: number,
  personId: number,
  { role, categories }: Pick<NewPerson, 'role' | 'categories'>,
): Promise<void> {
  await trx('memberships').insert({ blog_id: blogId, person_id: personId, role });
  await giveCategories(trx, blogId, personId, role, categories);
  await emit(trx, { blogId, kind: 'people' });
}

/**
 * Adds somebody to the blog of the person who asks: with a new account, or with their existing one where that
 * person manages it. Anybody else's account joins by an invitation that its owner accepts, so that nobody learns whose
 * it is by adding it.
 */
export async function addToBlog(
  trx: Trx,
  by: CurrentPerson,
  input: Omit<NewPerson, 'password'>,
  passwordHash: string,
): Promise<number> {
  const known = await accountOf(trx, input.email);
  if (!known) return addPerson(trx, by.blogId, input, passwordHash);
  await mustNotBelong(trx, by.blogId, known.id);
  if (await foreignBlog(trx, by, known.id))
    throw new ProblemError(
      'taken',
      'Somebody on another blog of this newsroom signs in with this address. Invite them: they accept with their own password.',
      { fields: [{ field: 'email', sentence: 'This address has an account already: invite them instead.' }] },
    );
  await joinBlog(trx, by.blogId, known.id, input);
  return known.id;
}

/** The account that an address signs in to. */
export const accountOf = async (
  db: Queryable,
  email: string,
): Promise<{ id: number; password_hash: string; active: boolean } | undefined> =>
  db('people')
    .where({ email })
    .first<{ id: number; password_hash: string; active: boolean } | undefined>(
      'id',
      'password_hash',
      'active',
    );

export async function mustNotBelong(db: Queryable, blogId: number, personId: number): Promise<void> {
  if (await db('memberships').where({ blog_id: blogId, person_id: personId }).first('role'))
    throw new ProblemError('taken', 'Somebody with that e-mail address is on this blog already.');
}

async function newAccount(
  trx: Trx,
  { name, email }: Pick<NewPerson, 'name' | 'email'>,
  passwordHash: string,
): Promise<number> {
  const [row] = await trx('people')
    .insert({ name, email, password_hash: passwordHash })
    .returning<{ id: number }[]>('id');
  return row!.id;
}

/** Does an account belong to a blog too that somebody does not manage? Readers' accounts are theirs as well. */
async function foreignBlog(db: Queryable, by: CurrentPerson, personId: number): Promise<boolean> {
  const foreign = await db('memberships as m')
    .where('m.person_id', personId)
    .whereNotExists((q) =>
      q
        .from('memberships as own')
        .whereRaw('own.blog_id = m.blog_id')
        .where({ 'own.person_id': by.id, 'own.role': 'managing editor' }),
    )
    .first('m.blog_id');
  return foreign !== undefined;
}

/** An account is everywhere the same: who manages it manages every blog that its owner belongs to. */
export async function mustManageAccount(trx: Trx, by: CurrentPerson, personId: number): Promise<void> {
  if (personId === by.id || !(await foreignBlog(trx, by, personId))) return;
  throw new ProblemError(
    'not-yours',
    'This account belongs to another blog of this newsroom too, which you do not manage: its name, password and ' +
      'state are its owner’s. Here you can change their role: a reader of this blog does nothing else on it.',
  );
}

/** Changes the account, role and work of somebody. A new password is not written down in the log of changes. */
export async function changePerson(
  change: Change,
  personId: number,
  changes: PersonChanges,
  passwordHash: string | null,
): Promise<PersonView> {
  const { trx, person: by } = change;
  // One at a time: the second sees the roles as the first left them, their own included.
  await trx('blogs').where({ id: by.blogId }).forNoKeyUpdate().first('id');
  const own = await findPerson(trx, by.id, by.blogId);
  if (own?.role !== by.role) throw notYours('Changing people');
  const changed = {
    kind: 'person' as const,
    id: personId,
    read: async () => {
      const person = (await listPeople(trx, by)).find((p) => p.id === personId);
      if (!person) throw notFound('That person');
      return { ...person, writes: await writesOf(trx, by.blogId, personId) };
    },
    name: ({ name }: PersonView) => name,
  };
  const { writes: _, ...view } = await saveChange(change, changed, ({ role }) =>
    writePerson(trx, by, { personId, role }, changes, passwordHash),
  );
  return view;
}

const writesOf = (db: Queryable, blogId: number, personId: number): Promise<number[]> =>
  db('writer_categories')
    .where({ blog_id: blogId, person_id: personId })
    .orderBy('category_id')
    .pluck<number[]>('category_id');

async function writePerson(
  trx: Trx,
  by: CurrentPerson,
  { personId, role }: { personId: number; role: Role },
  changes: PersonChanges,
  passwordHash: string | null,
): Promise<void> {
  if (personId === by.id && ((changes.role && changes.role !== by.role) || changes.active === false)) {
    throw new ProblemError(
      'invalid',
      'You cannot take your own role or account away; another managing editor can.',
    );
  }
  const fields: Record<string, unknown> = {
    ...(changes.name === undefined ? {} : { name: changes.name }),
    ...(changes.active === undefined ? {} : { active: changes.active }),
    ...(passwordHash === null ? {} : { password_hash: passwordHash }),
  };
  if (Object.keys(fields).length > 0) await mustManageAccount(trx, by, personId);
  if (Object.keys(fields).length > 0) await trx('people').where({ id: personId }).update(fields);
  const membership = trx('memberships').where({ blog_id: by.blogId, person_id: personId });
  if (changes.capacity !== undefined) await membership.clone().update({ capacity: changes.capacity });
  if (changes.role) await membership.clone().update({ role: changes.role });
  if (changes.writes) await giveWrites(trx, by.blogId, personId, changes.writes);
  if (changes.role || changes.categories) {
    const categories =
      changes.categories ??
      (await trx('editor_categories')
        .where({ blog_id: by.blogId, person_id: personId })
        .pluck<number[]>('category_id'));
    await giveCategories(trx, by.blogId, personId, changes.role ?? role, categories);
  }
  if (changes.active === false || passwordHash !== null) await endSessions(trx, personId);
}

/** Ends every session of a person, on every device; with `but`, all but this one. */
export async function endSessions(trx: Trx, personId: number, but = ''): Promise<void> {
  await trx('session').whereRaw(`(sess->>'personId')::int = ?`, [personId]).whereNot({ sid: but }).delete();
}

/** Makes the blog and its managing editor, only while nobody has an account. Returns the person's id. */
export async function setUp(
  trx: Trx,
  input: Omit<SetUp, 'password'>,
  passwordHash: string,
  home = '',
): Promise<number> {
  // Two people setting up at once: one waits here and is then told.
  await trx.raw('lock table people in exclusive mode');
  if (await trx('people').first('id'))
    throw new ProblemError('already-set-up', 'This newsroom has been set up already. Sign in instead.');
  const [blog] = await trx('blogs')
    .insert({ title: input.blogTitle, zone: input.zone, home })
    .returning<{ id: number }[]>('id');
  const chief = { name: input.name, email: input.email, role: 'managing editor', categories: [] } as const;
  return addPerson(trx, blog!.id, { ...chief, categories: [] }, passwordHash);
}
