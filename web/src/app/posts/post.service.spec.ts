import { Component, inject, signal } from '@angular/core';
import { HttpTestingController, type TestRequest } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import { Subject } from 'rxjs';
import type { PostView } from '@keyroster/contract';
import type { BodyNode } from '@keyroster/core';
import { answer, post, refuse, show } from '../../testing/newsroom';
import { storeDraft } from './draft-keeper';
import { NotesService } from './notes.service';
import { PostService } from './post.service';
import { SharedText } from './together/shared-text.service';
import type { TextStored } from './together/text-connection';

/** A text that is open and says what the test has it say. */
class QuietText {
  readonly state = signal<'saved' | 'saving'>('saved');
  readonly notStored = signal('');
  readonly stored = new Subject<TextStored>();
  readonly shownOut = new Subject<void>();
  readonly flushed: string[] = [];
  /** The post whose text is open, and whether one could write when it was to be shown. */
  open: { id: number; couldWrite?: boolean } | null = null;
  enter = (id: number, _personId: number, mayWrite: () => boolean, known: Promise<unknown>) => {
    const open: QuietText['open'] = { id };
    this.open = open;
    known.then(
      () => (open.couldWrite = mayWrite()),
      () => undefined,
    );
  };
  leave = () => (this.open = null);
  flush = () => (this.flushed.push('text'), Promise.resolve(true));
}

@Component({
  template: '',
  providers: [NotesService, { provide: SharedText, useClass: QuietText }, PostService],
})
class Host {
  readonly posts = inject(PostService);
  readonly text = inject(SharedText) as unknown as QuietText;
}
const text = (words: string): BodyNode => ({
  type: 'doc',
  content: [{ type: 'paragraph', content: [{ type: 'text', text: words }] }],
});
const stored = (parts: Partial<PostView>) => post({ body: text('It was dark.'), excerpt: '', ...parts });
const sent = (request: TestRequest) => JSON.parse(request.request.body as string) as Record<string, unknown>;
const upon = (request: TestRequest) => request.request.headers.get('If-Match');
const draftOn = (id: number) => localStorage.getItem(`key-roster.draft.1.${id}`);

let posts: PostService;
let shared: QuietText;
async function open(parts: Partial<PostView> = {}): Promise<void> {
  ({ posts, text: shared } = (await show(Host)).component);
  const opened = posts.open(7);
  await answer((r) => r.flush(stored(parts)), '/api/posts/7');
  await answer((r) => r.flush(null), '/api/posts/7/open', 'PUT');
  await answer((r) => r.flush([]), '/api/posts/7/notes');
  await opened;
}
const patched = (what: (request: TestRequest) => void) => answer(what, '/api/posts/7', 'PATCH');
const fetched = (parts: Partial<PostView>) => answer((r) => r.flush(stored(parts)), '/api/posts/7');
beforeEach(() => localStorage.clear());

describe('what is typed in a post', () => {
  it('is kept on the device at once, and on the server after a short quiet', async () => {
    await open();
    posts.type({ title: 'Lamps' });
    posts.type({ title: 'Lamps along' });
    expect(posts.saving()).toBe('typing');
    expect(JSON.parse(draftOn(7)!)).toMatchObject({ title: 'Lamps along', baseVersion: 3 });
    await patched((r) => {
      expect([upon(r), sent(r)]).toEqual(['"3"', { title: 'Lamps along' }]);
      r.flush({ post: stored({ title: 'Lamps along', version: 4 }), sentence: '' });
    });
    expect([posts.saving(), posts.post()!.version, draftOn(7)]).toEqual(['saved', 4, null]);
  });

  it('stays on the device while the server cannot be reached, and goes when it can', async () => {
    await open();
    posts.type({ title: 'Lamps' });
    await patched((r) => r.error(new ProgressEvent('error')));
    expect(posts.saving()).toBe('unreachable');
    expect(draftOn(7)).not.toBeNull();
    window.dispatchEvent(new Event('online'));
    await patched((r) => r.flush({ post: stored({ title: 'Lamps', version: 4 }), sentence: '' }));
    expect(posts.saving()).toBe('saved');
  });

  it('goes on top of what somebody else changed elsewhere in the post', async () => {
    await open();
    posts.type({ title: 'Lamps' });
    await patched(refuse({ code: 'version-conflict', detail: 'Changed.', changed: ['categoryId'] }));
    await fetched({ version: 9, categoryId: 2 });
    await patched((r) => {
      expect(upon(r)).toBe('"9"');
      r.flush({ post: stored({ title: 'Lamps', version: 10, categoryId: 2 }), sentence: '' });
    });
    expect([posts.saving(), posts.post()!.categoryId, posts.fields.meanwhile()]).toEqual(['saved', 2, null]);
  });

  describe('and by somebody else in the same line', () => {
    const both = async () => {
      await open();
      posts.type({ title: 'Lamps' });
      await patched(
        refuse({
          code: 'version-conflict',
          detail: 'Changed.',
          changed: ['title'],
          changedBy: 'Edda Thorne',
        }),
      );
      await fetched({ version: 9, title: 'Lanterns', excerpt: 'Hers.' });
    };

    it('is asked about; mine stays on the screen and all else is theirs', async () => {
      await both();
      expect(posts.fields.meanwhile()).toEqual({
        field: 'title',
        mine: 'Lamps',
        theirs: 'Lanterns',
        by: 'Edda Thorne',
      });
      expect([posts.saving(), posts.post()!.title, posts.post()!.excerpt]).toEqual([
        'refused',
        'Lamps',
        'Hers.',
      ]);
      expect(JSON.parse(draftOn(7)!)).toMatchObject({ title: 'Lamps' });
    });

    it('becomes mine upon theirs, with what I typed since', async () => {
      await both();
      posts.type({ title: 'Lamps, lit' });
      const settled = posts.fields.settle('mine');
      await patched((r) => {
        expect([upon(r), sent(r)]).toEqual(['"9"', { title: 'Lamps, lit' }]);
        r.flush({ post: stored({ title: 'Lamps, lit', version: 10 }), sentence: '' });
      });
      await settled;
      expect([posts.saving(), posts.fields.meanwhile(), draftOn(7)]).toEqual(['saved', null, null]);
    });

    it('becomes theirs, and nothing is sent', async () => {
      await both();
      await posts.fields.settle('theirs');
      expect([posts.saving(), posts.post()!.title, draftOn(7)]).toEqual(['saved', 'Lanterns', null]);
      TestBed.inject(HttpTestingController).expectNone((r) => r.method === 'PATCH');
    });
  });

  it('is no conflict with oneself when only the answer was lost', async () => {
    await open();
    posts.type({ title: 'Lamps' });
    await patched(refuse({ code: 'version-conflict', detail: 'Changed.', changed: ['title'] }));
    await fetched({ version: 4, title: 'Lamps' });
    expect([posts.saving(), posts.fields.meanwhile(), draftOn(7)]).toEqual(['saved', null, null]);
  });

  it('that the server refuses is kept, with its sentence', async () => {
    await open();
    posts.type({ excerpt: 'x' });
    await patched(refuse({ detail: 'An excerpt is one sentence.' }));
    expect(posts.saving()).toBe('refused');
    expect(posts.error()).toBe('An excerpt is one sentence. What you typed is kept on this device.');
    expect(draftOn(7)).not.toBeNull();
  });

  it('may be nothing, which is saved already', async () => {
    await open();
    posts.type({});
    expect(posts.saving()).toBe('saved');
  });

  it('never empties a title', async () => {
    await open();
    posts.type({ title: '  ' });
    await posts.flush();
    expect(posts.error()).toBe('A post needs a title. The last one stands until you type another.');
    TestBed.inject(HttpTestingController).expectNone((r) => r.method === 'PATCH');
  });

  it('and was never sent is taken up again when the post is opened', async () => {
    storeDraft(1, { postId: 7, baseVersion: 2, at: '2026-11-26T09:00:00Z', title: 'Lamps' });
    await open({ version: 3 });
    expect(posts.post()!.title).toBe('Lamps');
    // Upon the version it was typed on, so that the server says what changed since.
    await patched((r) => {
      expect(upon(r)).toBe('"2"');
      r.flush({ post: stored({ title: 'Lamps', version: 4 }), sentence: '' });
    });
    expect(posts.saving()).toBe('saved');
  });

  it('by somebody who may not write any more is not pushed in', async () => {
    storeDraft(1, { postId: 7, baseVersion: 2, at: '2026-11-26T09:00:00Z', title: 'Lamps' });
    await open({ rights: { write: false } as never, title: 'Theirs' });
    expect([posts.post()!.title, posts.saving()]).toEqual(['Theirs', 'saved']);
  });
});

it.each([
  [2, 2],
  [3, null],
  [null, null],
])('version %j read the time before is %j that has changed since', async (lastRead, known) => {
  await open();
  await answer((r) => r.flush({ versions: [], more: false, lastRead }), '/api/posts/7/versions');
  expect(posts.lastRead()).toBe(known);
});

describe('a change of a field', () => {
  it('is made anew upon what others changed elsewhere, and refused where they changed the same', async () => {
    await open();
    const done = posts.change({ campaign: 'Winter' });
    await patched(refuse({ code: 'version-conflict', detail: 'Changed.', changed: ['title'] }));
    await fetched({ version: 6, title: 'Lanterns' });
    await patched((r) => {
      expect(upon(r)).toBe('"6"');
      r.flush({ post: stored({ version: 7, title: 'Lanterns', campaign: 'Winter' }), sentence: 'Changed.' });
    });
    await expect(done).resolves.toBe('Changed.');

    const refused = posts.change({ campaign: 'Summer' });
    const failed = expect(refused).rejects.toThrow('Edda changed it.');
    await patched(refuse({ code: 'version-conflict', detail: 'Edda changed it.', changed: ['campaign'] }));
    await fetched({ version: 8, campaign: 'Spring' });
    await failed;
    expect(posts.post()!.campaign).toBe('Spring');
  });

  it('waits for the one before, and may depend on it', async () => {
    await open({ tags: [] });
    const both = Promise.all([
      posts.change({ tags: ['ice'] }),
      posts.change(({ tags }) => ({ tags: [...tags.map((t) => t.name), 'locks'] })),
    ]);
    await patched((r) =>
      r.flush({ post: stored({ version: 4, tags: [{ id: 1, name: 'ice' }] as never }), sentence: '' }),
    );
    await patched((r) => {
      expect([upon(r), sent(r)]).toEqual(['"4"', { tags: ['ice', 'locks'] }]);
      r.flush({ post: stored({ version: 5 }), sentence: '' });
    });
    await both;
  });
});

describe('the text of a post', () => {
  it('comes along with the post, and is shown once it is known who may write', async () => {
    ({ posts, text: shared } = (await show(Host)).component);
    const opened = posts.open(7);
    expect(shared.open).toEqual({ id: 7 });
    await fetched({});
    await answer((r) => r.flush([]), '/api/posts/7/notes');
    await opened;
    expect(shared.open).toEqual({ id: 7, couldWrite: true });
  });

  it('goes with a post that is not one’s own to see', async () => {
    ({ posts, text: shared } = (await show(Host)).component);
    const opened = posts.open(7);
    await answer(refuse({ code: 'not-found', detail: 'That post is not here.' }), '/api/posts/7');
    await opened;
    expect([shared.open, posts.error()]).toEqual([null, 'That post is not here.']);
  });

  it('and the post that was left before it came are not shown over the next', async () => {
    ({ posts, text: shared } = (await show(Host)).component);
    const opened = posts.open(7);
    const next = posts.open(8);
    await answer((r) => r.flush(stored({ id: 8, title: 'Next' })), '/api/posts/8');
    await answer((r) => r.flush([]), '/api/posts/8/notes');
    await next;
    await fetched({ title: 'Left' });
    await opened;
    expect([posts.post()!.title, shared.open]).toEqual(['Next', { id: 8, couldWrite: true }]);
  });

  it('that was stored before the post came has the post asked for anew', async () => {
    ({ posts, text: shared } = (await show(Host)).component);
    const opened = posts.open(7);
    shared.stored.next({ version: 4, words: 12, stage: 'commissioned' });
    await fetched({});
    await fetched({ version: 4, words: 12 });
    await answer((r) => r.flush([]), '/api/posts/7/notes');
    await opened;
    expect([posts.post()!.version, posts.post()!.words]).toEqual([4, 12]);
  });

  it('brings its version and words along when the post has taken it in', async () => {
    await open();
    shared.stored.next({ version: 4, words: 12, stage: 'commissioned' });
    expect([posts.post()!.version, posts.post()!.words]).toEqual([4, 12]);
    // Something else changed with it: the post is fetched.
    shared.stored.next({ version: 5, words: 13, stage: 'drafting' });
    await fetched({ version: 5, stage: 'drafting' });
    expect(posts.post()!.stage).toBe('drafting');
  });

  it('is stored before the post moves; a move is made again upon more words, and not upon anything else', async () => {
    await open();
    const moved = posts.move({ to: 'in review' });
    const move = (what: (r: TestRequest) => void) => answer(what, '/api/posts/7/moves', 'POST');
    await move((r) => {
      expect([upon(r), shared.flushed]).toEqual(['"3"', ['text']]);
      refuse({ code: 'version-conflict', detail: 'Changed.', changed: ['body'] })(r);
    });
    await fetched({ version: 4 });
    await move((r) => {
      expect(upon(r)).toBe('"4"');
      r.flush({ post: stored({ version: 5, stage: 'in review' }), sentence: 'Handed in.' });
    });
    await answer((r) => r.flush([]), '/api/posts/7/notes');
    await expect(moved).resolves.toBe('Handed in.');

    const again = posts.move({ to: 'cleared' });
    const failed = expect(again).rejects.toThrow('Edda changed it.');
    await move(refuse({ code: 'version-conflict', detail: 'Edda changed it.', changed: ['body', 'run'] }));
    await fetched({ version: 6, stage: 'in review' });
    await failed;
  });

  it('that is taken away is told, with why', async () => {
    await open();
    shared.shownOut.next();
    await answer(
      (r) =>
        r.flush(
          { code: 'not-found', detail: 'That post is not here.' },
          { status: 404, statusText: 'Not Found' },
        ),
      '/api/posts/7',
    );
    expect(posts.error()).toMatch(/^This post is in the bin now, or no longer yours to see\./);
  });

  it('that is not stored yet holds a move back', async () => {
    await open();
    shared.state.set('saving');
    await expect(posts.move({ to: 'in review' })).rejects.toThrow('What you typed is not stored yet.');
  });
});
