import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import { TestBed } from '@angular/core/testing';
import type { CommentsPage as View, CommentView } from '@keyroster/contract';
import type { Role } from '@keyroster/core';
import { Live } from '../api/live';
import { answer, show, type Shown } from '../../testing/newsroom';
import { press, type } from '../../testing/hands';
import { CommentsPage } from './comments.page';

const comment = (id: number, parts: Partial<CommentView> = {}): CommentView => ({
  id,
  kind: 'comment',
  state: 'held',
  post: { id: 7, title: 'Lamps along the feeder' },
  parent: null,
  name: `Reader ${id}`,
  email: '',
  text: 'A word.',
  by: null,
  member: false,
  known: false,
  spam: 0.01,
  source: null,
  at: '2026-11-26T09:00:00Z',
  ...parts,
});
const view = (comments: CommentView[], more = false): View => ({
  comments,
  more,
  counts: { held: comments.length, approved: 4, refused: 0, spam: 1 },
});
const HELD = [
  comment(3, { email: 'ada@example.org' }),
  comment(2, { known: true, member: true, spam: 0.97 }),
  comment(1, { kind: 'mention', source: 'https://other.example/a' }),
];

async function open(comments = HELD, role: Role = 'editor', more = false): Promise<Shown<CommentsPage>> {
  const page = await show(CommentsPage, { role });
  await answer((r) => r.flush(view(comments, more)), '/api/comments');
  await page.fixture.whenStable();
  return page;
}
const texts = (page: Shown<unknown>) =>
  [...page.page.querySelectorAll('article')].map((a) => (a.textContent ?? '').replace(/\s+/g, ' ').trim());

describe('the comments', () => {
  it('say what helps to decide about each', async () => {
    const [first, second, third] = texts(await open());
    expect(first).toMatch(
      /Reader 3 ?first comment ?ada@example.org ?Thursday 26 November(?: 2026)? at 09:00/,
    );
    expect(second).toMatch(/member ?looks like spam/);
    expect(second).not.toContain('first comment');
    expect(third).toMatch(/another site.*https:\/\/other.example\/a/);
    expect(third).not.toContain('Answer');
  });

  it('are moved together, and put back with one press', async () => {
    const page = await open();
    await (await page.loader.getHarness(MatCheckboxHarness.with({ selector: '.bar mat-checkbox' }))).check();
    await press(page.loader, 'Approve 3 comments');
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toEqual({ ids: [3, 2, 1], to: 'approved' });
        r.flush({ moveId: 9, moved: 3 });
      },
      '/api/comments/moves',
      'POST',
    );
    await answer((r) => r.flush(view([])), '/api/comments');
    await page.fixture.whenStable();
    expect(page.page.textContent).toContain('No comments are waiting.');
    await press(page.loader, 'Undo');
    await answer((r) => r.flush({ restored: 2, left: 1 }), '/api/comments/moves/9/undo', 'POST');
    await answer((r) => r.flush(view(HELD)), '/api/comments');
    await page.fixture.whenStable();
    expect(document.body.textContent).toContain(
      '2 comments put back. 1 other stayed, since they were moved again meanwhile.',
    );
  });

  it('are answered, and come in while one looks', async () => {
    const page = await open([comment(3)]);
    await press(page.loader, 'Answer');
    await type(page.loader, 'Your answer to Reader 3', 'Come in April.');
    await press(page.loader, 'Send the answer');
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toEqual({ text: 'Come in April.' });
        r.flush(comment(4));
      },
      '/api/comments/3/answers',
      'POST',
    );
    await answer((r) => r.flush(view([])), '/api/comments');
    (TestBed.inject(Live) as unknown as { events: { next(e: object): void } }).events.next({
      kind: 'comment',
    });
    await answer((r) => r.flush(view([comment(5, { text: 'Just now.' })])), '/api/comments');
    await page.fixture.whenStable();
    expect(texts(page)).toEqual([expect.stringContaining('Just now.')]);
  });

  it('go on further down, and their rules are the managing editor’s', async () => {
    const page = await open([comment(9)], 'editor', true);
    expect(page.page.textContent).not.toContain('Rules');
    await press(page.loader, 'Show more');
    await answer((r) => {
      expect(r.request.params.get('before')).toBe('9');
      r.flush(view([comment(8)]));
    }, '/api/comments');
    await page.fixture.whenStable();
    expect(texts(page).length).toBe(2);
    expect(page.page.textContent).not.toContain('Show more');
  });
});
