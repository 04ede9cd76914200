import type { CommentState, Instant } from '@keyroster/core';
import type { PersonRef } from '../accounts/types.js';

/** A comment, or a mention of a post on another site, as who moderates sees it. */
export interface CommentView {
  id: number;
  kind: 'comment' | 'mention';
  state: CommentState;
  post: { id: number; title: string };
  /** The comment that it answers. */
  parent: { id: number; name: string } | null;
  name: string;
  /** Told to nobody else; empty where none was given. */
  email: string;
  text: string;
  /** Of an answer by staff. */
  by: PersonRef | null;
  member: boolean;
  /** Others of the same person are visible to readers. */
  known: boolean;
  /** What the filter gives, from 0 to 1. */
  spam: number;
  /** Of a mention, the page that links here. */
  source: string | null;
  at: Instant;
}

export interface CommentsQuery {
  state?: CommentState;
  postId?: number;
  /** Words of it, or of who wrote it. */
  q?: string;
  /** Older than this one. */
  before?: number;
}
export interface CommentsPage {
  comments: CommentView[];
  more: boolean;
  counts: Record<CommentState, number>;
}

export interface CommentMove {
  ids: readonly number[];
  to: CommentState;
}
export interface CommentsMoved {
  /** By which it can be undone; null where nothing was moved. */
  moveId: number | null;
  moved: number;
}
export interface CommentsRestored {
  restored: number;
  /** Left as they are, since somebody moved them again meanwhile. */
  left: number;
}
export interface CommentAnswer {
  text: string;
}
