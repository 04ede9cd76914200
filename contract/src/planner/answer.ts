import { CARD_FIELDS, isLate, type CardField, type PostValues, type Stage } from '@keyroster/core';
import type { PersonRef } from '../accounts/types.js';
import type { CardText } from '../posts/types.js';
import type { PlannerCard, PlannerView } from './types.js';

/** What a card is packed from, by name. */
export interface PackedValues extends Pick<PostValues, CardText> {
  id: number;
  version: number;
  stage: Stage;
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

/** What is packed of the fields on cards that are no texts; the planner shows no addresses and nothing that is out. */
const PACKED_FIELDS = {
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
} as const satisfies Record<Exclude<CardField, CardText>, readonly (keyof PackedValues)[]>;

/** The order in which a card's values are packed. */
export const PACKED_CARD: readonly (keyof PackedValues)[] = [
  'id',
  'version',
  ...CARD_FIELDS.flatMap((field) =>
    field in PACKED_FIELDS ? PACKED_FIELDS[field as keyof typeof PACKED_FIELDS] : [field as CardText],
  ),
  'openNotes',
  'createdAt',
  'blocks',
  'warns',
  'openChores',
  'doneChores',
  'reads',
];

/**
 * A card on the wire: its values in the order of `PACKED_CARD`, and nothing else. A span may hold thousands of
 * posts, and then the names of the values would be most of what is sent, read and thrown away.
 */
export type PackedCard = PackedValues[keyof PackedValues][];

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
  return (card) => {
    const { bylineId, notBefore, notAfter, mustBeOn, blocks, warns, ...values } = unpack(card);
    return {
      ...values,
      byline: bylineId === null ? null : (known.get(bylineId) ?? { id: bylineId, name: '', initials: '' }),
      dateConstraint: { notBefore, notAfter, mustBeOn },
      late: isLate(values, nowLocal),
      checks: { blocks, warns },
    };
  };
}

function unpack(card: PackedCard): PackedValues {
  const values: Partial<Record<keyof PackedValues, unknown>> = {};
  for (let at = 0; at < PACKED_CARD.length; at += 1) values[PACKED_CARD[at]!] = card[at];
  return values as PackedValues;
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
