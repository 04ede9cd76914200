import { fromBase64, toBase64 } from 'lib0/buffer';

/** What was typed into a text and is not kept by the server yet stays on this device, over a reload too. */
const keyOf = (personId: number, postId: number) => `key-roster.text.${personId}.${postId}`;

/** False when the device is full or refuses. */
export function storeUpdate(personId: number, postId: number, update: Uint8Array | null): boolean {
  try {
    if (update) localStorage.setItem(keyOf(personId, postId), toBase64(update));
    else localStorage.removeItem(keyOf(personId, postId));
    return true;
  } catch {
    return false;
  }
}

export function findUpdate(personId: number, postId: number): Uint8Array | null {
  try {
    const text = localStorage.getItem(keyOf(personId, postId));
    return text ? fromBase64(text) : null;
  } catch {
    return null;
  }
}
