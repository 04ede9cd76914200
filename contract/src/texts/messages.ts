/** Where the text of a post is written in together; a WebSocket (RFC 6455). */
export const textPath = (postId: number): string => `/api/posts/${postId}/text`;

/**
 * Messages of a text that is written in together: a number (variable length, as in the y-protocols), then what it
 * holds. The first two are those of the y-protocols.
 */
export const TEXT_MESSAGES = {
  /** Steps and updates of the document. */
  sync: 0,
  /** Who is where in the text. */
  awareness: 1,
  /** To the client: so many of its updates of this connection are kept, and the id of the last. */
  kept: 2,
  /** To the client: an update was refused, and why; the documents differ, and the client loads its own again. */
  refused: 3,
  /**
   * To the client: up to this update the post has the text. Version, words and stage follow; version 0 when that
   * changed nothing, because it had it already.
   */
  stored: 4,
  /** To the client: why the text as it is cannot be stored. It stays, and is tried again when it changes. */
  notStored: 5,
  /** To the server: store at once what was typed. */
  store: 6,
} as const;

/** Why the server closes a connection, as its code. */
export const TEXT_CLOSED = {
  /** The session ended, or the post is not to be seen any more. */
  notYours: 4403,
  /** Nothing that is understood. */
  garbage: 4400,
  /** The process stops; come again. */
  restarts: 1012,
} as const;

/** A message may be so long, in bytes: an import of the longest text. */
export const MAX_TEXT_MESSAGE = 16 * 1024 * 1024;
