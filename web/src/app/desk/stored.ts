import type { PostChanges, PostView } from '@keyroster/contract';

/** What a part of the details asks to be stored, and how it is called in a sentence. */
export type Stored = [changes: PostChanges | ((post: PostView) => PostChanges), what: string];
