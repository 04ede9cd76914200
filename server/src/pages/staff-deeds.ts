/** What can be done from the blog, and what is said when it was. */
export const STAFF_DEEDS = {
  hold: 'It is held on top for a week.',
  drop: 'It is held on top no more.',
  'close comments': 'Nobody can comment on it any more; what was said shows no longer.',
  'open comments': 'Readers can comment on it.',
  withdraw: 'It is withdrawn: readers see it no more. In the newsroom it can be published again.',
  undo: 'It is as it was before.',
} as const;
export type StaffDeed = keyof typeof STAFF_DEEDS;
export const isStaffDeed = (text: string): text is StaffDeed => Object.hasOwn(STAFF_DEEDS, text);

/** A deed that was just done: to which post, and which version of it came of that. */
export interface DoneDeed {
  deed: StaffDeed;
  postId: number;
  version: number;
}

const NUMBER = /^\d{1,9}$/;

/** What an address says that was done; null where it says nothing of the kind. */
export function doneDeedIn(query: URLSearchParams): DoneDeed | null {
  const deed = query.get('did') ?? '';
  const [postId, version] = ['post', 'version'].map((name) => query.get(name) ?? '');
  if (!isStaffDeed(deed) || !NUMBER.test(postId!) || !NUMBER.test(version!)) return null;
  return { deed, postId: Number(postId), version: Number(version) };
}

export const doneDeedQuery = ({ deed, postId, version }: DoneDeed): string =>
  `?${new URLSearchParams({ did: deed, post: String(postId), version: String(version) }).toString()}`;

/** May it be undone from the blog? A withdrawal is taken back in the newsroom, where checks hold. */
export const isUndoable = ({ deed }: DoneDeed): boolean => deed !== 'withdraw' && deed !== 'undo';
