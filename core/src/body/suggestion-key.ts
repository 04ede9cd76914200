/** Who suggests something, when, and which of their suggestions it is. */
export interface SuggestionMaker {
  personId: number;
  /** To the minute, `2026-11-27T07:30Z`. */
  at: string;
  /** Tells suggestions of one person in one minute apart. */
  id: string;
}

const KEY = /^([1-9]\d{0,8})\/(\d{4}-\d\d-\d\dT\d\d:\d\dZ)\/([a-z0-9]{1,12})$/;

/**
 * A suggestion's maker as one line of text, `17/2026-11-27T07:30Z/k3`: marks and blocks with the same key are one
 * suggestion. One line, since shared documents compare attributes as they are.
 */
export const keyOf = ({ personId, at, id }: SuggestionMaker): string => `${personId}/${at}/${id}`;

/** Null when it is no key. */
export function makerOf(key: unknown): SuggestionMaker | null {
  const found = typeof key === 'string' ? KEY.exec(key) : null;
  return found && { personId: Number(found[1]), at: found[2]!, id: found[3]! };
}

/** What a suggestion does to a whole block. */
export interface BlockSuggestion {
  does: 'inserted' | 'deleted';
  key: string;
}

export const writeBlockSuggestion = ({ does, key }: BlockSuggestion): string => `${does} ${key}`;

export function readBlockSuggestion(value: unknown): BlockSuggestion | null {
  if (typeof value !== 'string') return null;
  const [does, key] = value.split(' ');
  return (does === 'inserted' || does === 'deleted') && makerOf(key) ? { does, key: key! } : null;
}
