import { isLate, type CardField, type Stage } from '@keyroster/core';
import type { PersonRef } from '../accounts/types.js';
import type { PlannerCard, PlannerView } from './types.js';

/** What a card is packed from, by name. */
export interface PackedValues {
  id: number;
  version: number;
  stage: Stage;
  title: string;
  thought: string;
  excerpt: string;
  categoryId: number | null;
  bylineId: number | null;
  runLocal: string | null;
  copyDate: string | null;
  words: number;
  notBefore: string | null;
  notAfter: string | null;
  mustBeOn: string | null;
  rating: number | null;
  openNotes: number;
  createdAt: string;
  blocks: number;
  warns: number;
  openChores: string[];
  doneChores: number;
  reads: number | null;
}

/** The order in which a card's values are packed. */
export const PACKED_CARD = [
  'id',
  'version',
  'stage',
  'title',
  'thought',
  'excerpt',
  'categoryId',
  'bylineId',
  'runLocal',
  'copyDate',
  'words',
  'notBefore',
  'notAfter',
  'mustBeOn',
  'rating',
  'openNotes',
  'createdAt',
  'blocks',
  'warns',
  'openChores',
  'doneChores',
  'reads',
] as const satisfies readonly (keyof PackedValues)[];

/** How the fields that cards show are packed; the planner shows no addresses and nothing that is out. */
export const PACKED_FIELDS = {
  title: ['title'],
  thought: ['thought'],
  excerpt: ['excerpt'],
  slug: [],
  words: ['words'],
  categoryId: ['categoryId'],
  bylineId: ['bylineId'],
  brief: ['copyDate'],
  dateConstraint: ['notBefore', 'notAfter', 'mustBeOn'],
  rating: ['rating'],
  run: ['runLocal'],
  stage: ['stage'],
  releasedAt: [],
} as const satisfies Record<CardField, readonly (keyof PackedValues)[]>;

type Packed<T extends readonly (keyof PackedValues)[]> = { -readonly [I in keyof T]: PackedValues[T[I]] };

/**
 * A card on the wire: its values in the order of `PACKED_CARD`, and nothing else. A span may hold thousands of
 * posts, and then the names of the values would be most of what is sent, read and thrown away.
 */
export type PackedCard = Packed<typeof PACKED_CARD>;

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
  return ([
    id,
    version,
    stage,
    title,
    thought,
    excerpt,
    categoryId,
    bylineId,
    runLocal,
    copyDate,
    words,
    notBefore,
    notAfter,
    mustBeOn,
    rating,
    openNotes,
    createdAt,
    blocks,
    warns,
    openChores,
    doneChores,
    reads,
  ]) => ({
    id,
    version,
    stage,
    title,
    thought,
    excerpt,
    categoryId,
    byline: bylineId === null ? null : (known.get(bylineId) ?? { id: bylineId, name: '', initials: '' }),
    runLocal,
    copyDate,
    words,
    dateConstraint: { notBefore, notAfter, mustBeOn },
    rating,
    late: isLate({ stage, runLocal, copyDate }, nowLocal),
    openNotes,
    createdAt,
    checks: { blocks, warns },
    openChores,
    doneChores,
    reads,
  });
}

export function unpackCards({ cards, people, nowLocal }: PackedCards): PlannerCard[] {
  return cards.map(unpacker(people, nowLocal));
}

export function unpackPlanner({ cards, late, people, ...rest }: PlannerAnswer): PlannerView {
  const unpack = unpacker(people, rest.nowLocal);
  const all = cards.map(unpack);
  return {
    ...rest,
    dated: all.filter((c) => c.stage !== 'pitch'),
    pitches: all.filter((c) => c.stage === 'pitch'),
    late: late.map(unpack).filter((c) => c.late),
  };
}
