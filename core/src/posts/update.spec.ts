import fc from 'fast-check';
import { applyEdit, applyEdits, HELD_FIELDS, type EditContext, type Post, type PostEdit } from '../index.js';
import { aContext, aPost, published, TEXT } from './testing.js';

const desk = aContext();
const apply = (post: Post, edits: readonly PostEdit[], context: EditContext = desk) => {
  const answer = applyEdits(post, edits, context);
  if (!answer.ok) throw new Error(answer.sentence);
  return { ...answer, kinds: answer.effects.map((e) => e.kind) };
};
const title = (text: string): PostEdit => ({ kind: 'set', values: { title: text } });

describe('what is changed in a published post', () => {
  it('waits for its update: readers keep the version that stood', () => {
    const { post, changed, effects, kinds } = apply(published(), [title('A gland that weeps less')]);
    expect(post.readersVersion).toBe(3);
    expect(changed).toEqual(['title', 'readersVersion']);
    expect(effects).toContainEqual({ kind: 'readers kept', version: 3 });
    expect(kinds).not.toContain('pages');
    // What follows is held as well, and the version that readers see stays.
    const again = apply({ ...post, version: 4 }, [{ kind: 'set', values: { excerpt: 'Less.' } }]);
    expect(again.post.readersVersion).toBe(3);
    expect(again.kinds).not.toContain('readers kept');
  });

  it('goes to readers with its update, which has what a release demands', () => {
    const held = { ...published(), version: 9, readersVersion: 3 };
    const { post, changed, kinds } = apply(held, [{ kind: 'update' }]);
    expect(post.readersVersion).toBeNull();
    expect(changed).toEqual(['readersVersion']);
    expect(kinds).toEqual(['readers caught up', 'pages']);
    const blocked = aContext({ blocking: () => ['a picture without words'] });
    expect(applyEdit(held, { kind: 'update' }, blocked)).toMatchObject({
      ok: false,
      code: 'demands',
      sentence: 'The checks hold it back: a picture without words.',
    });
    expect(applyEdit(published(), { kind: 'update' }, desk)).toMatchObject({ ok: false, code: 'invalid' });
    expect(applyEdit(aPost(), { kind: 'update' }, desk)).toMatchObject({ ok: false, code: 'no-such-move' });
  });

  it('is put before readers by the desk alone', () => {
    const held = { ...published(), readersVersion: 2 };
    for (const actor of [
      { id: 1, role: 'contributor', categories: [] },
      { id: 7, role: 'editor', categories: [2] },
      { id: 8, role: 'proofreader', categories: [] },
    ] as const)
      expect(applyEdit(held, { kind: 'update' }, aContext({ actor }))).toMatchObject({
        ok: false,
        code: 'not-yours',
      });
  });

  it.each<[string, PostEdit]>([
    ['access', { kind: 'set', values: { access: 'staff' } }],
    ['spotlight', { kind: 'set', values: { spotlight: { from: '2026-12-01', until: '2026-12-03' } } }],
    ['comments', { kind: 'set', values: { comments: false } }],
  ])('counts at once where it says to whom and where it is shown: %s', (_, edit) => {
    const { post, kinds } = apply(published(), [edit]);
    expect(post.readersVersion).toBeNull();
    expect(kinds).toContain('pages');
  });

  it('is nothing to readers where they see none of it', () => {
    const { post, kinds } = apply(published(), [{ kind: 'set', values: { campaign: 'Winter' } }]);
    expect([post.readersVersion, kinds.includes('pages')]).toEqual([null, false]);
  });

  it('may go to readers at once, past what waits', () => {
    const atOnce = aContext({ atOnce: true });
    expect(apply(published(), [title('Now')], atOnce)).toMatchObject({
      post: { readersVersion: null },
      kinds: expect.arrayContaining(['pages']),
    });
    const held = apply({ ...published(), version: 9, readersVersion: 3 }, [title('Now')], atOnce);
    expect(held.post.readersVersion).toBe(3);
    expect(held.effects).toContainEqual({ kind: 'sent on', fields: ['title'] });
    expect(held.kinds).toContain('pages');
  });

  it('is still unseen when the post is withdrawn and published again, and seen when it goes out anew', () => {
    const held = { ...published(), version: 9, readersVersion: 3 };
    const withdrawn = apply(held, [{ kind: 'move', to: 'withdrawn' }]);
    expect(withdrawn.post.readersVersion).toBe(3);
    expect(apply(withdrawn.post, [{ kind: 'move', to: 'published' }]).post.readersVersion).toBe(3);
    const again = apply(withdrawn.post, [{ kind: 'move', to: 'drafting' }]);
    expect(again.post.readersVersion).toBeNull();
    expect(again.kinds).toContain('readers caught up');
    const binned = apply(held, [{ kind: 'bin' }]);
    expect(binned.post.readersVersion).toBe(3);
    expect(apply(binned.post, [{ kind: 'restore' }]).post.readersVersion).toBeNull();
  });

  it('does not touch what was never out', () => {
    for (const post of [aPost(), aPost({ stage: 'drafting' }), aPost({ stage: 'withdrawn' })])
      expect(apply(post, [title('Other')]).post.readersVersion).toBeNull();
  });
});

/** A reader's copy, kept as the server does: by the effects alone. */
function follow(shown: Post, before: Post, answer: ReturnType<typeof apply>): Post {
  const held = answer.effects.find((e) => e.kind === 'readers kept');
  if (held) return before;
  return answer.post.readersVersion === null ? answer.post : shown;
}

it('readers see nothing of any run of edits until the update, and then all of it', () => {
  const edit = fc.oneof(
    fc.string({ minLength: 1, maxLength: 8 }).map((t) => title(`T${t}`)),
    fc.string({ maxLength: 8 }).map((excerpt): PostEdit => ({ kind: 'set', values: { excerpt } })),
    fc.integer({ min: 1, max: 90 }).map((n): PostEdit => ({
      kind: 'text',
      words: n,
      body: { ...TEXT, content: [...TEXT.content!, { type: 'paragraph' }].slice(0, 1 + (n % 2)) },
    })),
  );
  fc.assert(
    fc.property(fc.array(edit, { maxLength: 12 }), (edits) => {
      let post = published();
      let shown = post;
      const first = post;
      for (const step of edits) {
        const answer = apply(post, [step]);
        shown = follow(shown, post, answer);
        post = { ...answer.post, version: post.version + (answer.changed.length > 0 ? 1 : 0) };
        for (const field of HELD_FIELDS) expect(shown[field]).toEqual(first[field]);
      }
      if (post.readersVersion === null) return;
      const updated = apply(post, [{ kind: 'update' }]);
      shown = follow(shown, post, updated);
      for (const field of HELD_FIELDS) expect(shown[field]).toEqual(post[field]);
    }),
  );
});
