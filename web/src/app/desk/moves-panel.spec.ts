import { signal } from '@angular/core';
import type { NewMove, PostChanges, PostView } from '@keyroster/contract';
import type { Check } from '@keyroster/core';
import { MatDialogHarness } from '@angular/material/dialog/testing';
import { post, show, type Shown } from '../../testing/newsroom';
import { dialogGone, press, type } from '../../testing/hands';
import { ApiError } from '../api/api';
import { LetterAtReleaseService } from '../letters/letter-at-release.service';
import { MeasureService } from '../posts/measure.service';
import { MovesPanel } from './moves-panel';
import { NotesService } from '../posts/notes.service';
import { ReviewService } from './review.service';
import { SuggestionsService } from '../editor/suggestions/suggestions.service';
import { PostService } from '../posts/post.service';

const move = (to: string, label = to) => ({ to, label });
const check = (state: Check['state'], measure: string) => ({ state, measure, wanted: 'better' }) as Check;

let panel: Shown<MovesPanel>;
let done: (NewMove | PostChanges)[];
let refusal: Error | null;
let waiting: { postId: number; title: string } | undefined;
const view = signal<PostView | null>(null);
async function open(
  parts: object,
  {
    checks = [],
    notes = 0,
    suggested = 0,
    letter = '',
    withheld = false,
  }: { checks?: Check[]; notes?: number; suggested?: number; letter?: string; withheld?: boolean } = {},
): Promise<void> {
  done = [];
  refusal = null;
  view.set(post(parts as never));
  const act = (what: NewMove | PostChanges) => {
    done.push(what);
    return refusal ? Promise.reject(refusal) : Promise.resolve('Done.');
  };
  panel = await show(MovesPanel, {
    providers: [
      {
        provide: PostService,
        useValue: { post: view, move: act, change: act, flush: () => Promise.resolve() },
      },
      { provide: NotesService, useValue: { open: signal(Array.from({ length: notes }, () => ({}))) } },
      {
        provide: SuggestionsService,
        useValue: { count: signal(suggested) },
      },
      {
        provide: LetterAtReleaseService,
        useValue: {
          of: () => undefined,
          letter: signal(null),
          sentence: signal(letter),
          isWithheld: signal(withheld),
        },
      },
      { provide: ReviewService, useValue: { next: () => waiting } },
      { provide: MeasureService, useValue: { settled: () => Promise.resolve(checks) } },
    ],
  });
}
const buttons = () => [...panel.page.querySelectorAll('.buttons button')].map((b) => b.textContent!.trim());
const question = () => panel.page.querySelector('[aria-label="Checks before it goes on"]')?.textContent ?? '';

const inReview = {
  stage: 'in review',
  moves: [move('cleared'), move('drafting'), move('scheduled')],
  runLocal: '2036-12-01T08:00:00',
};

describe('the moves of a post', () => {
  it('are told by what they do, the likeliest first', async () => {
    await open(inReview);
    expect(buttons()).toEqual([
      'Clear and schedule for Mon 1 Dec 2036, 08:00',
      'Clear',
      'Ask for changes',
      'Reassign …',
    ]);
    await open2({ stage: 'cleared', runLocal: '2036-12-01T08:00:00', moves: [move('scheduled')] });
    expect(buttons()).toEqual(['Schedule …', 'Release now …', 'Remove the date']);
    await open2({ stage: 'published', moves: [move('withdrawn')] });
    expect(buttons()).toEqual(['Withdraw …']);
  });
  const open2 = async (parts: object, more: { checks?: Check[]; notes?: number } = {}) => {
    const { TestBed } = await import('@angular/core/testing');
    TestBed.resetTestingModule();
    await open(parts, more);
  };

  it('clear at once what the checks find nothing in', async () => {
    await open(inReview);
    await press(panel.loader, 'Clear');
    expect(done).toEqual([{ to: 'cleared' }]);
    expect(panel.page.querySelector('[role=status]')!.textContent).toBe('Done.');
  });

  it('ask about warnings and open notes first, and go on all the same when told to', async () => {
    await open(inReview, {
      checks: [check('warns', 'No excerpt'), check('fine', 'Title')],
      notes: 2,
      suggested: 3,
    });
    await press(panel.loader, 'Clear');
    expect(done).toEqual([]);
    expect(question()).toContain('There are 3 warnings.');
    expect(question()).toContain('2 notes not resolved.');
    expect(question()).toContain('3 suggestions not settled; without them it goes on.');
    expect(question()).toContain('No excerpt; wanted: better.');
    await press(panel.loader, 'Clear all the same');
    expect(done).toEqual([{ to: 'cleared' }]);
  });

  it('stop at what the checks hold back', async () => {
    await open(inReview, { checks: [check('blocks', 'No category'), check('warns', 'No excerpt')] });
    await press(panel.loader, /^Clear and schedule/);
    expect(question()).toContain('The checks hold it back.');
    expect(question()).not.toContain('all the same');
    expect(question()).not.toContain('No excerpt');
    expect(done).toEqual([]);
  });

  it('ask for changes with a word, never without', async () => {
    await open(inReview);
    await press(panel.loader, 'Ask for changes');
    await press(panel.loader, /^Ask .* for changes$/);
    expect(panel.page.querySelector('mat-error')!.textContent).toBe('Say what should change.');
    await type(panel.loader, 'What should change?', 'Say where the lamps are.');
    await press(panel.loader, /^Ask .* for changes$/);
    expect(done).toEqual([{ to: 'drafting', note: 'Say where the lamps are.' }]);
  });

  it('hand in with a word or without, and lead to what waits next', async () => {
    waiting = { postId: 12, title: 'The next one' };
    const drafting = { stage: 'drafting', moves: [move('in review', 'Hand in')] };
    await open(drafting);
    await press(panel.loader, 'Hand in with a word …');
    await type(panel.loader, 'A word to the reviewer', 'The names are checked.');
    await press(panel.loader, 'Hand in');
    expect(done).toEqual([{ to: 'in review', note: 'The names are checked.' }]);
    expect(panel.page.querySelector('.next')!.textContent).toContain('Open the next: The next one');
    waiting = undefined;
    await press(panel.loader, 'Hand in');
    expect(done[1]).toEqual({ to: 'in review' });
  });

  it.each([
    ['Cancel', []],
    ['Withdraw', [{ to: 'withdrawn' }]],
  ])('ask before a post is taken from readers: after “%s” %j', async (say, moves) => {
    await open({ stage: 'published', moves: [move('withdrawn')] });
    await press(panel.loader, 'Withdraw …');
    const dialog = await panel.loader.getHarness(MatDialogHarness);
    expect(await dialog.getText()).toContain('It leaves the blog and its feeds at once.');
    await press(panel.loader, say);
    await dialogGone();
    expect(done).toEqual(moves);
  });

  it('offer both times where the clocks go back', async () => {
    await open({ stage: 'cleared', moves: [move('scheduled')] });
    await press(panel.loader, 'Schedule …');
    await type(panel.loader, 'Date', '26 October 2031');
    await type(panel.loader, 'Time, Europe/London', '01:30');
    refusal = new ApiError(
      {
        code: 'time-doubled',
        choices: [
          { local: '2031-10-26T01:30:00', offset: '+01:00', at: '2031-10-26T00:30:00Z' },
          { local: '2031-10-26T01:30:00', offset: '+00:00', at: '2031-10-26T01:30:00Z' },
        ],
      } as never,
      'That time happens twice.',
    );
    await press(panel.loader, /^Schedule for/);
    refusal = null;
    await press(panel.loader, 'the later 01:30 (UTC+00:00)');
    expect(done.at(-1)).toEqual({ to: 'scheduled', runAt: '2031-10-26T01:30:00+00:00' });
  });

  it('say what was refused, and forget it when the post has gone on', async () => {
    await open(inReview);
    refusal = new ApiError(null, 'Edda cleared it already.');
    await press(panel.loader, 'Clear');
    expect(panel.page.querySelector('[role=alert]')!.textContent).toBe('Edda cleared it already.');
    view.set(post({ stage: 'cleared', moves: [move('scheduled')] as never }));
    await panel.fixture.whenStable();
    expect(panel.page.querySelector('[role=alert]')).toBeNull();
  });

  it('say before a release that a letter goes with it, and ask where it cannot', async () => {
    const sentence = 'A letter to 36 subscribers is sent with the release and cannot be called back.';
    const cleared = { stage: 'cleared', moves: [move('scheduled')], mailAtRelease: true };
    await open(cleared, { letter: sentence });
    expect(panel.page.textContent).toContain(sentence);
    await press(panel.loader, 'Release now …');
    expect(await (await panel.loader.getHarness(MatDialogHarness)).getText()).toContain(sentence);
    await press(panel.loader, 'Cancel');
    await dialogGone();
    await press(panel.loader, 'Schedule …');
    expect(panel.page.querySelector('kr-schedule-form')!.textContent).toContain(sentence);
  });

  it('ask before a post is cleared whose letter cannot be sent', async () => {
    const kept = 'Its letter cannot be sent and will wait as a draft.';
    await open(inReview, { letter: kept, withheld: true });
    await press(panel.loader, 'Clear');
    expect(question()).toContain(kept);
    expect(done).toEqual([]);
  });
});
