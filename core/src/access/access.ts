import type { Access } from '../posts/values.js';
import type { Stage } from '../stages/stages.js';

/** Who asks to read, as far as it decides what they may. */
export interface ReaderRights {
  staff: boolean;
  /** Signed in as a member of the blog. */
  member: boolean;
  /** Posts whose password they gave. */
  opened: readonly number[];
  /** Parts of serials that are not due for them yet. */
  withheld: readonly number[];
}

/** Who brings nothing, where these parts of serials come with a delay. */
export const anybody = (delayed: readonly number[] = []): ReaderRights => ({
  staff: false,
  member: false,
  opened: [],
  withheld: delayed,
});

/** How each is called where a person chooses. */
export const ACCESS_NAMES: Record<Access, string> = {
  everyone: 'everyone',
  members: 'members',
  password: 'with a password',
  staff: 'staff only',
};

/** What may be read without a password by who brings so much. */
export function accessOpenTo({ staff, member }: Pick<ReaderRights, 'staff' | 'member'>): Access[] {
  if (staff) return ['everyone', 'members', 'password', 'staff'];
  return member ? ['everyone', 'members'] : ['everyone'];
}

/** May they read this post on the blog's pages? Staff read everything that is out, whenever it is due for others. */
export function mayRead(
  reader: ReaderRights,
  { id, stage, access }: { id: number; stage: Stage; access: Access },
): boolean {
  if (stage !== 'published') return false;
  if (reader.staff) return true;
  if (reader.withheld.includes(id)) return false;
  return accessOpenTo(reader).includes(access) || (access === 'password' && reader.opened.includes(id));
}

/** What keeps a post from everybody's eyes, so that nothing of it goes out to other places; null: nothing. */
export function whyNotPublic(access: Access, delayed: boolean): string | null {
  if (access === 'staff') return 'Its post is for staff only; nothing of it goes out.';
  if (access === 'members') return 'Its post is for members only; nothing of it goes out.';
  if (access === 'password') return 'Its post needs a password; nothing of it goes out.';
  return delayed ? 'Its post is a part of a serial that readers get later; nothing of it goes out.' : null;
}
