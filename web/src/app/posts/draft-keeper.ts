/** What a person has typed around a text and the server does not have yet, kept on this device. */
export interface LocalDraft {
  postId: number;
  baseVersion: number;
  at: string;
  title?: string;
  excerpt?: string;
}

const keyOf = (personId: number, postId: number) => `key-roster.draft.${personId}.${postId}`;

/** Keeps a draft on this device until the server has it; false when the device is full or refuses. */
export function storeDraft(personId: number, draft: LocalDraft): boolean {
  try {
    localStorage.setItem(keyOf(personId, draft.postId), JSON.stringify(draft));
    return true;
  } catch {
    return false;
  }
}

export function findDraft(personId: number, postId: number): LocalDraft | null {
  try {
    const text = localStorage.getItem(keyOf(personId, postId));
    return text ? (JSON.parse(text) as LocalDraft) : null;
  } catch {
    return null;
  }
}

export function dropDraft(personId: number, postId: number): void {
  localStorage.removeItem(keyOf(personId, postId));
}
