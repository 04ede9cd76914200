import { isLate, type Stage } from '@keyroster/core';
import type { PersonRef } from './accounts.js';
import type { PlannerCard, PlannerView } from './planner.js';

/**
 * A card on the wire: its values in this order, and nothing else. A span may hold thousands of posts, and then the
 * names of the values would be most of what is sent, read and thrown away.
 */
export type PackedCard = [
  id: number, version: number, stage: Stage, title: string, thought: string, excerpt: string, categoryId: number | null, bylineId: number | null, runLocal: string | null, copyDate: string | null,
  words: number, notBefore: string | null, notAfter: string | null, mustBeOn: string | null, rating: number | null, openNotes: number, createdAt: string, blocks: number, warns: number,
];

/** What the planner’s routes send: cards packed, and the people that they name once. */
export interface PackedCards {
  nowLocal: string;
  people: PersonRef[];
  cards: PackedCard[];
}

export interface PlannerAnswer extends PackedCards, Omit<PlannerView, 'dated' | 'pitches' | 'late'> {
  late: PackedCard[];
}

function unpacker(people: readonly PersonRef[], nowLocal: string): (card: PackedCard) => PlannerCard {
  const known = new Map(people.map((p) => [p.id, p]));
  return ([id, version, stage, title, thought, excerpt, categoryId, bylineId, runLocal, copyDate, words, notBefore, notAfter, mustBeOn, rating, openNotes, createdAt, blocks, warns]) => ({
    id, version, stage, title, thought, excerpt, categoryId, byline: bylineId === null ? null : (known.get(bylineId) ?? { id: bylineId, name: '', initials: '' }),
    runLocal, copyDate, words, wish: { notBefore, notAfter, mustBeOn }, rating, late: isLate({ stage, runLocal, copyDate }, nowLocal), openNotes, createdAt, checks: { blocks, warns },
  });
}

export function unpackCards({ cards, people, nowLocal }: PackedCards): PlannerCard[] {
  return cards.map(unpacker(people, nowLocal));
}

export function unpackPlanner({ cards, late, people, ...rest }: PlannerAnswer): PlannerView {
  const unpack = unpacker(people, rest.nowLocal);
  const all = cards.map(unpack);
  return { ...rest, dated: all.filter((c) => c.stage !== 'pitch'), pitches: all.filter((c) => c.stage === 'pitch'), late: late.map(unpack).filter((c) => c.late) };
}
