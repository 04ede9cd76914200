import type { PieceKind, Stage, WallTime } from '@keyroster/core';

export interface CampaignLine {
  id: number;
  name: string;
  from: string | null;
  until: string | null;
  posts: number;
  out: number;
  /** How much is still missing. */
  lacks: number;
}

/** A post or a piece on the campaign's timeline. */
export interface CampaignItem {
  kind: 'post' | 'piece';
  /** Of the post. */
  postId: number;
  title: string;
  /** Null while it has no time. */
  local: WallTime | null;
  /** Of a post. */
  stage: Stage | null;
  /** Of a piece. */
  outlet: string;
  pieceKind: PieceKind | null;
  /** In a word: out, planned, waits for approval. */
  state: string;
  /** Of what is out: reads of a post, what was seen of a piece. */
  figure: number | null;
}

export interface CampaignView {
  id: number;
  version: number;
  name: string;
  about: string;
  from: string | null;
  until: string | null;
  outletIds: number[];
  items: CampaignItem[];
  /** Pictures of its posts, each once. */
  pictures: { id: number; alt: string }[];
  lacks: string[];
  totals: { name: string; value: number }[];
  /** How its posts did beside all others, in a sentence; empty before one is a week old. */
  did: string;
}

export interface NewCampaign {
  name: string;
}
export interface CampaignChanges {
  name: string;
  about: string;
  from: string | null;
  until: string | null;
  outletIds: readonly number[];
}
