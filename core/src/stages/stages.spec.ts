import { fc } from '../testing.js';
import { ROLES, type Actor } from '../people/people.js';
import {
  MOVES,
  STAGES,
  isReady,
  judgeMove,
  openMoves,
  teeth,
  type DemandFacts,
  type PostFacts,
} from './stages.js';
import { may, roleMay } from './may.js';

const post = (over: Partial<PostFacts> = {}): PostFacts => ({
  stage: 'drafting',
  categoryId: 1,
  bylineId: 7,
  coauthorIds: [],
  proofreaderId: null,
  proofreaderWrites: false,
  createdById: 7,
  readersVersion: null,
  ...over,
});
const facts = (over: Partial<DemandFacts> = {}): DemandFacts => ({
  title: 'Frost on the steps',
  words: 400,
  bylineId: 7,
  categoryId: 1,
  slug: 'frost-steps',
  runAt: '2026-11-27T08:00:00Z',
  note: 'Shorter, please.',
  needsPassword: false,
  readingPassword: '',
  blocking: () => [],
  opened: () => false,
  ...over,
});
const person = (role: Actor['role'], id: number, categories: number[] = []): Actor => ({
  role,
  id,
  categories,
});
const chief = person('managing editor', 1);
const editor = person('editor', 2, [1]);
const stranger = person('editor', 3, [2]);
const writer = person('contributor', 7);
const other = person('contributor', 8);

describe('the stage table', () => {
  it('has exactly the forward road of a post (product facts)', () => {
    const road = [
      'pitch',
      'commissioned',
      'drafting',
      'in review',
      'cleared',
      'scheduled',
      'published',
      'withdrawn',
    ] as const;
    for (let i = 0; i + 1 < road.length; i++) {
      expect(MOVES.some((m) => m.from === road[i] && m.to === road[i + 1])).toBe(true);
    }
  });

  it('never lets anybody but the clock publish what was not out before', () => {
    expect(
      MOVES.filter((m) => m.to === 'published' && m.from !== 'withdrawn').flatMap((m) => m.movers),
    ).toEqual(['clock']);
    for (const stage of STAGES.filter((s) => s !== 'withdrawn')) {
      for (const role of ROLES) {
        expect(judgeMove(person(role, 7, [1]), post({ stage }), 'published', facts()).ok).toBe(false);
      }
    }
    expect(judgeMove('clock', post({ stage: 'scheduled' }), 'published', facts()).ok).toBe(true);
  });

  it('lets a contributor hand in their own post and nothing further', () => {
    expect(judgeMove(writer, post(), 'in review', facts()).ok).toBe(true);
    expect(judgeMove(other, post(), 'in review', facts())).toMatchObject({ ok: false, code: 'not-yours' });
    expect(judgeMove(other, post({ coauthorIds: [8] }), 'in review', facts()).ok).toBe(true);
    expect(judgeMove(writer, post({ stage: 'in review' }), 'cleared', facts())).toMatchObject({
      code: 'not-yours',
    });
    expect(judgeMove(writer, post({ stage: 'cleared' }), 'scheduled', facts())).toMatchObject({
      code: 'not-yours',
    });
  });

  it('keeps an editor within the categories given to them', () => {
    const waiting = post({ stage: 'in review' });
    expect(judgeMove(editor, waiting, 'cleared', facts()).ok).toBe(true);
    expect(judgeMove(stranger, waiting, 'cleared', facts())).toMatchObject({ code: 'not-yours' });
    expect(judgeMove(chief, waiting, 'cleared', facts()).ok).toBe(true);
  });

  it('says in words what a move still demands', () => {
    const answer = judgeMove(
      editor,
      post({ stage: 'cleared' }),
      'scheduled',
      facts({ runAt: null, slug: null }),
    );
    expect(answer).toMatchObject({ code: 'demands', missing: ['slug', 'run time'] });
    expect(answer.ok ? '' : answer.sentence).toBe('It needs a web address. It needs a date and a time.');
    expect(judgeMove(editor, post({ stage: 'in review' }), 'drafting', facts({ note: '  ' }))).toMatchObject({
      missing: ['note'],
    });
  });

  it('lets an editor who does not schedule neither schedule a post nor publish one again', () => {
    const out = post({ stage: 'withdrawn', readersVersion: null });
    const asked = (schedules: boolean) => [
      judgeMove({ ...editor, schedules }, out, 'published', facts()).ok,
      judgeMove({ ...editor, schedules }, post({ stage: 'cleared' }), 'scheduled', facts()).ok,
    ];
    expect([asked(true), asked(false)]).toEqual([
      [true, true],
      [false, false],
    ]);
  });
  it('lets the managing editor skip stages on their own post, never the demands', () => {
    const own = post({ stage: 'pitch', bylineId: 1 });
    expect(judgeMove(chief, own, 'scheduled', facts({ bylineId: 1 })).ok).toBe(true);
    expect(judgeMove(chief, own, 'scheduled', facts({ bylineId: 1, words: 0 }))).toMatchObject({
      missing: ['text'],
    });
    expect(judgeMove(chief, post({ stage: 'pitch' }), 'scheduled', facts())).toMatchObject({
      code: 'not-yours',
    });
  });

  it('offers only moves that the judge allows (property)', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...ROLES),
        fc.constantFrom(...STAGES),
        fc.integer({ min: 1, max: 3 }),
        fc.integer({ min: 1, max: 3 }),
        (role, stage, id, byline) => {
          const actor = person(role, id, [1]);
          const p = post({ stage, bylineId: byline });
          const offered = openMoves(actor, p).map((m) => m.to);
          for (const to of STAGES) {
            expect(judgeMove(actor, p, to, facts({ bylineId: byline })).ok).toBe(offered.includes(to));
          }
        },
      ),
    );
  });
});

describe('stages on the mark', () => {
  it('cuts one tooth for each of the seven stages reached', () => {
    expect(STAGES.map(teeth)).toEqual([1, 2, 3, 4, 5, 6, 7, 0]);
    expect(STAGES.filter(isReady)).toEqual(['cleared', 'scheduled', 'published']);
  });
});

describe('may', () => {
  it('lets writers write until they hand in', () => {
    expect(may(writer, 'write', post())).toBe(true);
    expect(may(writer, 'write', post({ stage: 'in review' }))).toBe(false);
    expect(may(other, 'write', post())).toBe(false);
    expect(may(other, 'write', post({ stage: 'pitch', bylineId: null, createdById: 8 }))).toBe(true);
  });
  it('lets a proofreader see and correct only what they are put on', () => {
    const proof = person('proofreader', 9);
    expect(may(proof, 'see', post())).toBe(false);
    expect(may(proof, 'see', post({ stage: 'published' }))).toBe(true);
    // What waits for an update is not public.
    expect(may(proof, 'see', post({ stage: 'published', readersVersion: 3 }))).toBe(false);
    expect(may(proof, 'write', post({ proofreaderId: 9 }))).toBe(false);
    expect(may(proof, 'suggest', post({ proofreaderId: 9 }))).toBe(true);
    expect(may(proof, 'suggest', post({ proofreaderId: 8 }))).toBe(false);
    expect(may(proof, 'write', post({ proofreaderId: 9, proofreaderWrites: true }))).toBe(true);
    expect(may(proof, 'details', post({ proofreaderId: 9 }))).toBe(false);
    for (const stage of STAGES) {
      const mine = post({ stage, proofreaderId: 9, proofreaderWrites: true });
      const atWork = ['drafting', 'in review', 'cleared', 'scheduled'].includes(stage);
      expect([stage, may(proof, 'write', mine), may(proof, 'suggest', mine)]).toEqual([
        stage,
        atWork,
        atWork,
      ]);
    }
    expect(may(proof, 'note', post({ proofreaderId: 9 }))).toBe(true);
  });
  it('keeps readers out and settings with the managing editor', () => {
    expect(may(person('reader', 7), 'see', post())).toBe(false);
    expect(may(person('reader', 7), 'note', post())).toBe(false);
    expect(roleMay('editor', 'manageBlog')).toBe(false);
    expect(roleMay('managing editor', 'manageBlog')).toBe(true);
    expect(roleMay('proofreader', 'pitch')).toBe(false);
  });
});
