/** What a key lets a writing tool do; the words are those of Micropub and of IndieAuth. */
export const TOKEN_SCOPES = ['create', 'update', 'delete', 'media'] as const;
export type TokenScope = (typeof TOKEN_SCOPES)[number];
