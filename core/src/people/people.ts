/** The five roles, from the one who may do most to the one who only reads. */
export const ROLES = ['managing editor', 'editor', 'contributor', 'proofreader', 'reader'] as const;
export type Role = (typeof ROLES)[number];

/** A person as permission sees them. `categories` are the ones an editor was given; empty for other roles. */
export interface Actor {
  id: number;
  role: Role;
  categories: readonly number[];
  /** False for an editor of a blog where only the managing editor schedules. */
  schedules?: boolean;
}

/** Two letters to stand for a name: first letter of the first and of the last word. */
export function initials(name: string): string {
  const words = name.normalize('NFC').trim().split(/\s+/).filter(Boolean);
  const first = [...(words[0] ?? '?')][0] ?? '?';
  const last = words.length > 1 ? ([...(words[words.length - 1] ?? '')][0] ?? '') : '';
  return (first + last).toLocaleUpperCase('en');
}
