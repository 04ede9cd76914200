/** What can be done from the blog, and what is said when it was. */
export const STAFF_DEEDS = {
  hold: 'It is held on top for a week.',
  drop: 'It is held on top no more.',
  'close comments': 'Nobody can comment on it any more; what was said shows no longer.',
  'open comments': 'Readers can comment on it.',
  withdraw: 'It is withdrawn: readers see it no more. In the newsroom it can be published again.',
} as const;
export type StaffDeed = keyof typeof STAFF_DEEDS;
export const isStaffDeed = (text: string): text is StaffDeed => Object.hasOwn(STAFF_DEEDS, text);
