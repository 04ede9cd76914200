import fc from 'fast-check';
import { BATCH_FIELDS, inverse, sameValue, valuesBack, type BatchChange, type Post } from '../index.js';
import { published } from '../posts/testing.js';
import { scene, post, predict, written, revert, anyChange, anyPost } from './testing.js';

describe('a batch taken back', () => {
  it('applied and inverted is as it was', () => {
    fc.assert(
      fc.property(anyPost, fc.array(anyChange, { minLength: 1, maxLength: 4 }), (of, changes) => {
        const outcome = predict(changes, of);
        if (outcome.state !== 'changes') return;
        const after = outcome.edited.post;
        const fields = (p: Post) => Object.fromEntries(BATCH_FIELDS.map((f) => [f, p[f]]));
        expect(fields({ ...after, ...inverse(outcome.item).after })).toEqual(fields(of));
        const back = valuesBack(after, { item: outcome.item, force: false });
        expect(back.since).toEqual([]);
        expect(fields({ ...after, ...back.values })).toEqual(fields(of));
      }),
      { numRuns: 500 },
    );
  });

  it('taken back restores every field or says why not', () => {
    fc.assert(
      fc.property(anyPost, fc.array(anyChange, { minLength: 1, maxLength: 4 }), (of, changes) => {
        const outcome = predict(changes, of);
        if (outcome.state !== 'changes') return;
        const back = revert(outcome.edited.post, outcome.item);
        if (back.state === 'refused') expect(back.sentence).toMatch(/\.$/);
        else
          for (const field of BATCH_FIELDS)
            expect(back.state === 'changes' ? back.edited.post[field] : of[field]).toEqual(of[field]);
      }),
      { numRuns: 500 },
    );
  });

  it('that is independent of another may come before or after it', () => {
    const touches: Record<BatchChange['kind'], string> = {
      byline: 'byline',
      category: 'category',
      'second category': 'category',
      tags: 'tags',
      'tags become': 'tags',
      'tags merge': 'tags',
      'categories merge': 'category',
      access: 'access',
      comments: 'comments',
      spotlight: 'spotlight',
      campaign: 'campaign',
      'format field': 'format',
      replace: 'words',
      lighten: 'lead',
      shift: 'run',
      spread: 'run',
      stage: 'run',
      plan: 'all',
      reassign: 'all',
      bin: 'all',
    };
    // What a move to a stage demands or asks permission by; such changes are not independent of it.
    const demanded = new Set(['byline', 'category', 'words', 'run']);
    fc.assert(
      fc.property(anyPost, anyChange, anyChange, (of, a, b) => {
        const [one, two] = [touches[a.kind], touches[b.kind]];
        if (
          one === two ||
          one === 'all' ||
          two === 'all' ||
          (a.kind === 'stage' && demanded.has(two)) ||
          (b.kind === 'stage' && demanded.has(one))
        )
          return;
        expect(written(written(of, [a]), [b])).toEqual(written(written(of, [b]), [a]));
      }),
      { numRuns: 500 },
    );
  });

  it('taken back never loses a later edit', () => {
    fc.assert(
      fc.property(anyPost, anyChange, anyChange, (of, change, later) => {
        const outcome = predict([change], of);
        if (outcome.state !== 'changes') return;
        const stands = outcome.edited.post;
        const edited = written(stands, [later]);
        const back = { ...edited, ...valuesBack(edited, { item: outcome.item, force: false }).values };
        for (const field of BATCH_FIELDS) {
          if (field === 'tagIds') {
            const gainedSince = edited.tagIds.filter(
              (t) => !stands.tagIds.includes(t) && !(outcome.item.before.tagIds ?? []).includes(t),
            );
            expect(gainedSince.every((t) => back.tagIds.includes(t))).toBe(true);
          } else if (!sameValue(edited[field], stands[field])) expect(back[field]).toEqual(edited[field]);
        }
      }),
      { numRuns: 500 },
    );
  });

  it('taken back by force takes what was changed since along, and names it', () => {
    const done = { before: { bylineId: 1, comments: true }, after: { bylineId: 2, comments: false } };
    expect(valuesBack(post({ bylineId: 3, comments: false }), { item: done, force: false })).toEqual({
      values: { comments: true },
      since: ['bylineId'],
    });
    expect(valuesBack(post({ bylineId: 3, comments: false }), { item: done, force: true })).toEqual({
      values: { bylineId: 1, comments: true },
      since: ['bylineId'],
    });
    expect(valuesBack(post({ bylineId: 1, comments: true }), { item: done, force: false })).toEqual({
      values: {},
      since: [],
    });
  });

  it('taken back by force makes no move that the stage table does not have', () => {
    const cleared = { before: { stage: 'in review' as const }, after: { stage: 'cleared' as const } };
    expect(revert(post(), cleared)).toMatchObject({
      state: 'changes',
      item: { after: { stage: 'in review' } },
    });
    expect(revert(published(), cleared)).toEqual({ state: 'same' });
    expect(revert(published(), cleared, true)).toEqual({
      state: 'refused',
      sentence: 'A post that is published cannot become in review.',
    });
  });

  it('taken back looks at rules and at what is there, post by post', () => {
    const byline = { before: { bylineId: null }, after: { bylineId: 1 } };
    expect(revert(post(), byline).state).toBe('changes');
    expect(revert(published(), byline)).toEqual({
      state: 'refused',
      sentence: 'A published post keeps its byline.',
    });
    const tags = { before: { tagIds: [5] }, after: { tagIds: [1] } };
    const gone = { ...scene, has: (kind: string) => kind !== 'tag' };
    expect(revert(post(), tags, false, gone)).toEqual({
      state: 'refused',
      sentence: 'One of those tags is not on this blog.',
    });
    const slug = { before: { slug: 'taken' }, after: { slug: 'stern-gland-weeps' } };
    expect(revert(post(), slug)).toMatchObject({ sentence: '/taken is the address of “Another”.' });
    const scheduled = {
      before: { stage: 'scheduled' as const, run: post().run },
      after: { stage: 'cleared' as const, run: null },
    };
    const late = { ...scene, now: '2026-12-02T09:00:00Z' };
    expect(revert(post({ run: null }), scheduled)).toMatchObject({
      state: 'changes',
      edited: { post: { stage: 'scheduled', scheduledAt: scene.now } },
    });
    expect(revert(post({ run: null }), scheduled, false, late)).toMatchObject({
      state: 'refused',
      sentence: expect.stringMatching(/in the past, and it would go out at once|that has passed/),
    });
    // Its stage alone, with the run time that it kept, which is neither to come nor now.
    const unscheduled = { before: { stage: 'scheduled' as const }, after: { stage: 'cleared' as const } };
    const passed = 'It would be scheduled for a time that has passed, and go out at once.';
    for (const now of ['2026-12-01T08:00:00Z', '2026-12-01T08:00:01Z'])
      expect(revert(post(), unscheduled, false, { ...scene, now })).toMatchObject({ sentence: passed });
    expect(revert(post(), unscheduled, false, { ...scene, now: '2026-12-01T07:59:59Z' }).state).toBe(
      'changes',
    );
  });
});
