import { CARD_TEXTS, type CardText } from '../posts/types.js';
import {
  PACKED_CARD,
  unpackCards,
  unpackPlanner,
  type PackedCard,
  type PackedValues,
  type PlannerAnswer,
} from './answer.js';

const NO_TEXTS = Object.fromEntries(CARD_TEXTS.map((f) => [f, ''])) as Record<CardText, string>;
const VALUES: PackedValues = {
  ...NO_TEXTS,
  id: 7,
  version: 3,
  stage: 'drafting',
  title: 'Frost on the steps',
  thought: 'A thought',
  excerpt: 'One sentence.',
  categoryId: 1,
  bylineId: 4,
  runLocal: '2026-12-01T08:00:00',
  copyDate: '2026-11-26',
  words: 120,
  notBefore: null,
  notAfter: '2026-12-24',
  mustBeOn: null,
  rating: 5,
  openNotes: 2,
  createdAt: '2026-11-01T00:00:00Z',
  blocks: 1,
  warns: 3,
  openChores: ['Pictures'],
  doneChores: 2,
  reads: 1204,
};
const card = (over: Partial<PackedValues> = {}): PackedCard =>
  PACKED_CARD.map((name) => ({ ...VALUES, ...over })[name]);
const people = [{ id: 4, name: 'Isla Nettle', initials: 'IN' }];

describe('the planner’s packed answer', () => {
  it('names every value again', () => {
    expect(unpackCards({ cards: [card()], people, nowLocal: '2026-11-25T09:00:00' })).toEqual([
      {
        ...NO_TEXTS,
        id: 7,
        version: 3,
        stage: 'drafting',
        title: 'Frost on the steps',
        thought: 'A thought',
        excerpt: 'One sentence.',
        categoryId: 1,
        byline: people[0],
        runLocal: '2026-12-01T08:00:00',
        copyDate: '2026-11-26',
        words: 120,
        dateConstraint: { notBefore: null, notAfter: '2026-12-24', mustBeOn: null },
        rating: 5,
        late: false,
        openNotes: 2,
        createdAt: '2026-11-01T00:00:00Z',
        checks: { blocks: 1, warns: 3 },
        openChores: ['Pictures'],
        doneChores: 2,
        reads: 1204,
      },
    ]);
  });

  it('says what is late by the time of the answer, and keeps a byline of somebody unknown', () => {
    const [late, strange, nobody] = unpackCards({
      cards: [card(), card({ bylineId: 99 }), card({ bylineId: null })],
      people,
      nowLocal: '2026-11-27T09:00:00',
    });
    expect(late!.late).toBe(true);
    expect(strange!.byline).toEqual({ id: 99, name: '', initials: '' });
    expect(nobody!.byline).toBeNull();
  });

  it('parts what is dated from what waits, and tells only what is late as late', () => {
    const answer: PlannerAnswer = {
      from: '2026-11-23',
      to: '2026-12-20',
      today: '2026-11-25',
      nowLocal: '2026-11-25T09:00:00',
      slots: [],
      absences: [],
      writers: [],
      people,
      onTop: [],
      cards: [
        card({ id: 1 }),
        card({ id: 2, stage: 'pitch', runLocal: null }),
        card({ id: 3, stage: 'scheduled' }),
      ],
      late: [card({ id: 4, copyDate: '2026-11-20' }), card({ id: 5 })],
    };
    const view = unpackPlanner(answer);
    expect([view.dated.map((p) => p.id), view.pitches.map((p) => p.id), view.late.map((p) => p.id)]).toEqual([
      [1, 3],
      [2],
      [4],
    ]);
    expect(view).not.toHaveProperty('cards');
  });
});
