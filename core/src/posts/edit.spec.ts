import fc from 'fast-check';
import {
  applyEdit,
  applyEdits,
  brokenRules,
  MOVES,
  POST_FIELD_NAMES,
  STAGES,
  type EditContext,
  type Post,
  type PostEdit,
  formatEdit,
} from '../index.js';
import { aContext, aPitch, aPost, published, TEXT } from './testing.js';

const context = aContext();
const outcome = (post: Post, edit: PostEdit, at: EditContext = context) => {
  const answer = applyEdit(post, edit, at);
  return answer.ok ? { ...answer, post: undefined } : answer;
};
const after = (post: Post, edit: PostEdit, at: EditContext = context): Post => {
  const answer = applyEdit(post, edit, at);
  if (!answer.ok) throw new Error(answer.sentence);
  return answer.post;
};
const RUN = { local: '2026-12-08T08:00:00', zone: 'Europe/London', at: '2026-12-08T08:00:00Z' };
const PAST = { local: '2026-11-03T08:00:00', zone: 'Europe/London', at: '2026-11-03T08:00:00Z' };

describe('an edit', () => {
  it('gives the changed fields with their effects', () => {
    expect(
      outcome(published(), { kind: 'set', values: { slug: 'weeping-stern-gland-drops' } }),
    ).toMatchObject({
      ok: true,
      changed: ['slug', 'readersVersion'],
      effects: [
        { kind: 'slug left', slug: 'stern-gland-weeps' },
        { kind: 'slug taken', slug: 'weeping-stern-gland-drops' },
        { kind: 'checks' },
        { kind: 'readers kept', version: 3 },
      ],
    });
    // Nobody ever came to the address of a post that was never out: nothing has to lead on from it.
    expect(outcome(aPost(), { kind: 'set', values: { slug: 'weeping-stern-gland-drops' } })).toMatchObject({
      effects: [{ kind: 'slug taken', slug: 'weeping-stern-gland-drops' }, { kind: 'checks' }],
    });
    expect(outcome(aPost(), { kind: 'move', to: 'scheduled' })).toMatchObject({
      changed: ['stage', 'stageSince', 'scheduledAt'],
      effects: [
        { kind: 'moved', step: { from: 'cleared', to: 'scheduled' } },
        { kind: 'release planned', at: '2026-12-01T08:00:00Z' },
        { kind: 'pieces follow' },
      ],
    });
    expect(outcome(aPost(), { kind: 'set', values: { title: aPost().title } })).toMatchObject({
      changed: [],
      effects: [],
    });
  });

  it('keeps the planned date when a post is unscheduled, and says so', () => {
    const scheduled = after(aPost(), { kind: 'move', to: 'scheduled' });
    const answer = applyEdit(scheduled, { kind: 'move', to: 'cleared' }, context);
    if (!answer.ok) throw new Error(answer.sentence);
    expect(answer.post).toMatchObject({ stage: 'cleared', run: scheduled.run, scheduledAt: null });
    expect(formatEdit(answer, context)).toBe(
      'Unscheduled. It stays cleared and planned for Tuesday 1 December at 08:00.',
    );
    const dateless = applyEdit(scheduled, { kind: 'set', values: { run: null } }, context);
    expect(dateless.ok && formatEdit(dateless, context)).toBe(
      'Unscheduled, and its run time is removed. It stays cleared.',
    );
  });

  it('publishes again what was withdrawn, as released when it was', () => {
    const withdrawn = after(published(), { kind: 'move', to: 'withdrawn' });
    const answer = applyEdit(withdrawn, { kind: 'move', to: 'published' }, context);
    if (!answer.ok) throw new Error(answer.sentence);
    expect(answer.post).toMatchObject({ stage: 'published', releasedAt: published().releasedAt });
    const kinds = answer.effects.map((e) => e.kind);
    expect(kinds).toContain('pages');
    expect(kinds).not.toContain('released');
    expect(formatEdit(answer, context)).toBe('Readers see it again.');
    // Not without what a release demands.
    expect(
      applyEdit({ ...withdrawn, bylineId: null }, { kind: 'move', to: 'published' }, context),
    ).toMatchObject({
      ok: false,
      code: 'demands',
    });
  });

  it('knows only the rating of a post as no reader’s and no check’s business', () => {
    expect(outcome(published(), { kind: 'set', values: { rating: 4 } })).toMatchObject({ effects: [] });
  });

  it('plans a release anew, and cancels it with the schedule and in the bin', () => {
    const scheduled = after(aPost(), { kind: 'move', to: 'scheduled' });
    const release = (edit: PostEdit) =>
      applyEdit(scheduled, edit, context).ok &&
      (outcome(scheduled, edit) as { effects: object[] }).effects.find(
        (e) => (e as { kind: string }).kind === 'release planned',
      );
    expect(release({ kind: 'set', values: { run: RUN } })).toEqual({ kind: 'release planned', at: RUN.at });
    expect(release({ kind: 'set', values: { run: null } })).toEqual({ kind: 'release planned', at: null });
    expect(release({ kind: 'move', to: 'cleared' })).toEqual({ kind: 'release planned', at: null });
    expect(release({ kind: 'bin' })).toEqual({ kind: 'release planned', at: null });
    expect(after(scheduled, { kind: 'set', values: { run: null } })).toMatchObject({
      stage: 'cleared',
      run: null,
      scheduledAt: null,
    });
  });

  it('is released by the clock alone, once', () => {
    const scheduled = after(aPost(), { kind: 'move', to: 'scheduled' });
    const clock = aContext({ actor: 'clock' });
    expect(outcome(scheduled, { kind: 'move', to: 'published' }, clock)).toMatchObject({
      ok: true,
      effects: expect.arrayContaining([{ kind: 'released' }, { kind: 'pages' }]),
    });
    expect(outcome(scheduled, { kind: 'move', to: 'published' })).toMatchObject({ code: 'not-yours' });
    expect(outcome(published(), { kind: 'move', to: 'published' }, clock)).toMatchObject({
      code: 'no-such-move',
    });
    expect(outcome(scheduled, { kind: 'set', values: { title: 'Other' } }, clock)).toMatchObject({
      code: 'not-yours',
    });
  });

  it('makes the second category the first, and lets the second go', () => {
    const post = aPost({ categoryId: 1, secondCategoryId: 2 });
    expect(after(post, { kind: 'set', values: { categoryId: 2, secondCategoryId: null } })).toMatchObject({
      categoryId: 2,
      secondCategoryId: null,
    });
    expect(after(post, { kind: 'set', values: { categoryId: 2 } })).toMatchObject({ secondCategoryId: null });
    expect(outcome(post, { kind: 'set', values: { secondCategoryId: 1 } })).toMatchObject({ ok: false });
  });

  it('never puts a scheduled post into the past in a batch, and says so of one', () => {
    const scheduled = after(aPost(), { kind: 'move', to: 'scheduled' });
    const edit: PostEdit = { kind: 'set', values: { run: PAST } };
    expect(outcome(scheduled, edit, aContext({ pastRun: 'refused' }))).toEqual({
      ok: false,
      code: 'bad-time',
      sentence: 'Its run time would lie in the past, and it would go out at once.',
      field: 'run',
    });
    expect(outcome(scheduled, edit)).toMatchObject({ ok: true });
    expect(outcome(published(), { kind: 'set', values: { run: RUN } })).toMatchObject({ code: 'bad-time' });
    expect(outcome(aPitch(), { kind: 'set', values: { run: RUN } })).toMatchObject({ code: 'no-such-move' });
  });

  it('names the checks that hold a post back', () => {
    const post = aPost({ stage: 'in review' });
    const held = aContext({ blocking: () => ['“/gone” leads nowhere', 'one picture is not described'] });
    expect(outcome(post, { kind: 'move', to: 'cleared' }, held)).toMatchObject({
      sentence: 'The checks hold it back: “/gone” leads nowhere; one picture is not described.',
    });
  });

  it('gives a post that is cleared an address of telling words that nobody has', () => {
    const post = aPost({ stage: 'in review', slug: null, title: 'Frost on the top gate beams' });
    expect(after(post, { kind: 'move', to: 'cleared' }).slug).toBe('frost-top-gate-beams');
    const taken = aContext({
      ownerOf: (a) => (a === 'frost-top-gate-beams' ? { id: 5, title: 'Frost', formerly: true } : undefined),
    });
    expect(after(post, { kind: 'move', to: 'cleared' }, taken).slug).toBe('frost-top-gate-beams-engine-room');
    expect(outcome(aPost(), { kind: 'set', values: { slug: 'frost-top-gate-beams' } }, taken)).toMatchObject({
      code: 'taken',
      sentence: '/frost-top-gate-beams leads to “Frost”, which once stood there.',
    });
  });

  it('comes out of the bin as a draft, with a run time that is still to come and without one that is over', () => {
    const binned = after(after(aPost(), { kind: 'move', to: 'scheduled' }), { kind: 'bin' });
    expect(outcome(binned, { kind: 'set', values: { title: 'Other' } })).toMatchObject({
      sentence: 'It lies in the bin.',
    });
    const { run } = binned;
    const early = { ...context, now: '2020-01-01T00:00:00Z' };
    const late = { ...context, now: '2990-01-01T00:00:00Z' };
    for (const [when, kept] of [
      [early, run],
      [late, null],
    ] as const)
      expect(after(binned, { kind: 'restore' }, when)).toMatchObject({
        binned: false,
        stage: 'drafting',
        run: kept,
        scheduledAt: null,
      });
    expect(outcome(aPost(), { kind: 'restore' })).toMatchObject({ ok: false });
  });

  it('keeps a text of what is out, and starts the draft with a writer’s first words', () => {
    const empty: PostEdit = { kind: 'text', body: { type: 'doc', content: [] }, words: 0 };
    expect(outcome(published(), empty)).toMatchObject({ code: 'demands' });
    const writer = aContext({ actor: { id: 4, role: 'contributor', categories: [] } });
    const commissioned = aPitch({ stage: 'commissioned', bylineId: 4 });
    const text: PostEdit = { kind: 'text', body: TEXT, words: 7 };
    expect(after(commissioned, text, writer)).toMatchObject({ stage: 'drafting', words: 7 });
    expect(outcome(aPost({ stage: 'in review', bylineId: 4 }), text, writer)).toMatchObject({
      sentence: 'This post is in review. Its text is the editor’s until changes are asked for.',
    });
    const nowhere = aContext({ has: (kind) => kind !== 'picture' });
    const picture: PostEdit = {
      kind: 'text',
      body: { type: 'doc', content: [{ type: 'picture', attrs: { media: 77, alt: '' } }] },
      words: 1,
    };
    expect(outcome(aPost(), picture, nowhere)).toMatchObject({ code: 'bad-text' });
  });

  it('names nothing that is not on the blog, but may keep what is no longer there', () => {
    const nothing = aContext({ has: () => false });
    expect(outcome(aPost(), { kind: 'set', values: { bylineId: 8 } }, nothing)).toMatchObject({ ok: false });
    expect(outcome(aPost(), { kind: 'set', values: { bylineId: 1 } }, nothing)).toMatchObject({ ok: true });
    expect(outcome(aPost(), { kind: 'set', values: { tagIds: [1] } }, nothing)).toMatchObject({ ok: true });
    expect(outcome(aPost(), { kind: 'set', values: { tagIds: [1, 2] } }, nothing)).toMatchObject({
      ok: false,
    });
  });
});

const actors: EditContext['actor'][] = [
  { id: 1, role: 'managing editor', categories: [] },
  { id: 2, role: 'editor', categories: [1] },
  { id: 4, role: 'contributor', categories: [] },
  { id: 5, role: 'proofreader', categories: [] },
  { id: 6, role: 'reader', categories: [] },
  'clock',
];
const anyRun = fc.constantFrom(null, RUN, PAST);
const anyEdit: fc.Arbitrary<PostEdit> = fc.oneof(
  fc.record({
    kind: fc.constant('set' as const),
    values: fc.record(
      {
        title: fc.constantFrom('', 'One', 'Two'),
        slug: fc.constantFrom(null, 'one-two-three-four', 'not an address'),
        categoryId: fc.constantFrom(null, 1, 2),
        secondCategoryId: fc.constantFrom(null, 1, 2),
        bylineId: fc.constantFrom(null, 1, 4),
        proofreaderId: fc.constantFrom(null, 5),
        run: anyRun,
        comments: fc.boolean(),
      },
      { requiredKeys: [] },
    ),
  }),
  fc.record(
    {
      kind: fc.constant('move' as const),
      to: fc.constantFrom(...STAGES),
      note: fc.constantFrom('', 'Say more.'),
      run: fc.constantFrom(RUN, PAST),
    },
    { requiredKeys: ['kind', 'to'] },
  ),
  fc.record({
    kind: fc.constant('text' as const),
    body: fc.constantFrom(TEXT, { type: 'doc', content: [] }),
    words: fc.constantFrom(0, 7),
  }),
  fc.constant({ kind: 'bin' } as const),
  fc.constant({ kind: 'restore' } as const),
);
const anyStep = fc.record({
  edit: anyEdit,
  actor: fc.constantFrom(...actors),
  pastRun: fc.constantFrom('goes out' as const, 'refused' as const),
});

describe('edits, in whatever order and by whomever', () => {
  it('reach no state that the stage table forbids, and take no way that it does not have', () => {
    fc.assert(
      fc.property(fc.array(anyStep, { maxLength: 14 }), (steps) => {
        let post = aPitch();
        for (const { edit, actor, pastRun } of steps) {
          const answer = applyEdit(post, edit, aContext({ actor, pastRun }));
          if (!answer.ok) {
            expect(answer.sentence).toMatch(/[.”]$/);
            continue;
          }
          for (const { from, to } of answer.steps)
            expect(edit.kind === 'restore' || MOVES.some((m) => m.from === from && m.to === to)).toBe(true);
          expect(answer.post.stage === post.stage || answer.steps.length > 0).toBe(true);
          expect(brokenRules(answer.post)).toEqual([]);
          post = answer.post;
        }
      }),
      { numRuns: 3000 },
    );
  });

  it('taken together do what they do one after the other', () => {
    fc.assert(
      fc.property(fc.array(anyEdit, { minLength: 1, maxLength: 4 }), (edits) => {
        const together = applyEdits(aPost(), edits, context);
        let post = aPost();
        for (const edit of edits) {
          const answer = applyEdit(post, edit, context);
          // Only what stands at the end has to keep the rules.
          if (!answer.ok) return;
          post = answer.post;
        }
        expect(together).toMatchObject({ ok: true, post });
      }),
      { numRuns: 1000 },
    );
  });

  it('change nothing of a post when they are refused, and leave what they were given alone', () => {
    fc.assert(
      fc.property(anyStep, ({ edit, actor, pastRun }) => {
        const [post, same] = [published(), published()];
        const answer = applyEdit(post, edit, aContext({ actor, pastRun }));
        expect(post).toEqual(same);
        if (!answer.ok) return;
        for (const field of POST_FIELD_NAMES)
          if (!answer.changed.includes(field)) expect(answer.post[field]).toEqual(post[field]);
      }),
    );
  });
});
