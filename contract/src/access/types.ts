import type { Instant } from '@keyroster/core';
import type { PersonRef } from '../accounts/types.js';

/** A link by which somebody outside sees a post before it is out. Its address is told once, when it is made. */
export interface PreviewLinkView {
  id: number;
  /** For whom it is. */
  label: string;
  by: PersonRef | null;
  madeAt: Instant;
  expiresAt: Instant;
  /** How often it was followed. */
  opened: number;
}
export interface NewPreviewLink {
  label: string;
  /** After so many days it leads nowhere. */
  days: number;
}
export interface PreviewLinkMade {
  link: PreviewLinkView;
  address: string;
}

/** A reader who signed up. */
export interface MemberView {
  id: number;
  email: string;
  joinedAt: Instant;
  firstVisit: Instant;
  /** Signs in no more. */
  blocked: boolean;
}
export interface MembersPage {
  members: MemberView[];
  /** How many there are, blocked ones among them. */
  count: number;
}
export interface MembersQuery {
  /** A part of the address. */
  q?: string;
}
export interface MemberChanges {
  blocked: boolean;
}
