import { TestBed } from '@angular/core/testing';
import { MatDialogHarness } from '@angular/material/dialog/testing';
import type { LetterCounts, LetterView, SubscribersPage as Answer } from '@keyroster/contract';
import { SUBSCRIBER_STATES } from '@keyroster/core';
import { answer, show, savedBody, type Shown } from '../../testing/newsroom';
import { press, type } from '../../testing/hands';
import { Unsaved } from '../ui/unsaved';
import { LetterPage } from './letter.page';
import { SubscribersPage } from './subscribers.page';

const counts: LetterCounts = {
  ...{
    waiting: 0,
    deferred: 0,
    sent: 0,
    failed: 0,
    undelivered: 0,
    unsure: 0,
    left: 0,
    bounced: 0,
    unsubscribed: 0,
  },
  ...{ opened: null, clicked: null },
};
const letter = (parts: Partial<LetterView> = {}): LetterView =>
  ({
    ...{ id: 4, version: 2, subject: 'Ice', intro: '', whole: false, state: 'draft', note: '' },
    ...{ atRelease: false, nextTryAt: null, madeAt: '2026-11-25T08:00:00Z', begunAt: null, endedAt: null },
    posts: [
      { id: 7, title: 'Frost on the steps', stage: 'published', withheld: '' },
      { id: 8, title: 'A letter', stage: 'withdrawn', withheld: 'It is withdrawn.' },
    ],
    ...{ subscribers: 36, clicks: [], counts },
    ...parts,
  }) as LetterView;
const text = (page: Shown<unknown>) => (page.page.textContent ?? '').replace(/\s+/g, ' ');
const asked = async (path: string, method: string, reply: object) => {
  let body: Record<string, unknown> = {};
  await answer(
    (r) => {
      body = savedBody(r);
      r.flush(reply);
    },
    path,
    method,
  );
  return body;
};

async function open(parts: Partial<LetterView> = {}): Promise<Shown<LetterPage>> {
  const page = await show(LetterPage, { inputs: { id: '4' } });
  await answer((r) => r.flush(letter(parts)), '/api/letters/4');
  await page.fixture.whenStable();
  await answer((r) => r.flush({ subject: 'Ice', html: '<p>x</p>', text: 'x' }), '/api/letters/4/preview');
  await page.fixture.whenStable();
  return page;
}

describe('a letter', () => {
  it('is put in order, saved, and sent only after a question that says to how many', async () => {
    const page = await open();
    expect(text(page)).toContain('It is withdrawn.');
    expect(page.page.querySelector('iframe')!.getAttribute('sandbox')).toBe('');
    page.page.querySelector<HTMLButtonElement>('[aria-label="Remove A letter"]')!.click();
    await type(page.loader, 'Subject', ' Ice and thaw ');
    expect(TestBed.inject(Unsaved).any()).toBe(true);
    await press(page.loader, 'Save');
    const kept = letter({ version: 3, subject: 'Ice and thaw', posts: [letter().posts[0]!] });
    expect(await asked('/api/letters/4', 'PUT', kept)).toEqual({
      ...{ version: 2, subject: 'Ice and thaw', intro: '', whole: false, postIds: [7] },
    });
    await page.fixture.whenStable();
    await press(page.loader, /^Send to 36 subscribers/);
    const question = await page.loader.getHarness(MatDialogHarness);
    expect(await question.getText()).toContain('Send “Ice and thaw” to 36 subscribers?');
    await press(page.loader, 'Send to 36 subscribers');
    expect(await asked('/api/letters/4/send', 'POST', letter({ version: 4, state: 'sending' }))).toEqual({
      version: 3,
    });
  });

  it('that is on its way can be stopped, and one that was stopped by something says why', async () => {
    const page = await open({ state: 'sending', counts: { ...counts, waiting: 30, sent: 6 } });
    await press(page.loader, 'Stop');
    await asked(
      '/api/letters/4/stop',
      'POST',
      letter({ state: 'stopped', note: 'Stopped: not everybody may.' }),
    );
    await page.fixture.whenStable();
    expect(text(page)).toContain('Stopped: not everybody may.');
    expect(text(page)).toContain('Send it on');
  });
});

describe('subscribers', () => {
  const none = Object.fromEntries(SUBSCRIBER_STATES.map((s) => [s, 0])) as Answer['counts'];
  const list: Answer = {
    subscribers: [
      {
        ...{ id: 5, email: 'ada@example.org', name: 'Ada', state: 'active', how: 'form', post: null },
        ...{ askedAt: '2026-11-20T08:00:00Z', confirmedAt: '2026-11-20T09:00:00Z', leftAt: null },
        ...{ version: 1, bounces: 1, bounceSaid: 'The box is full.' },
      },
    ],
    more: false,
    reasons: [],
    counts: { ...none, active: 36, bounced: 2 },
  };

  it('are listed by where they stand, and asked by mail when somebody puts them down', async () => {
    const page = await show(SubscribersPage);
    await answer((r) => r.flush(list), '/api/subscribers');
    await page.fixture.whenStable();
    expect(text(page)).toContain('ada@example.org');
    expect(text(page)).toContain('The box is full.');
    await press(page.loader, 'Ask them by mail');
    expect(text(page)).toContain('Say the e-mail address.');
    await type(page.loader, 'E-mail address', ' new@example.org ');
    await press(page.loader, 'Ask them by mail');
    const added = { ...list.subscribers[0]!, id: 6, email: 'new@example.org', state: 'asked' };
    expect(await asked('/api/subscribers', 'POST', added)).toEqual({ email: 'new@example.org', name: '' });
  });

  it('that cannot be reached are restored one by one, or all with one reason', async () => {
    const page = await show(SubscribersPage);
    const reason = 'Their mail server refused it (535).';
    const struck = { ...list.subscribers[0]!, state: 'bounced', bounceSaid: reason };
    const answerList = () =>
      answer(
        (r) => r.flush({ ...list, subscribers: [struck], reasons: [{ reason, subscribers: 37 }] }),
        '/api/subscribers',
      );
    await answerList();
    await page.fixture.whenStable();
    page.page.querySelector<HTMLButtonElement>('[aria-label="Restore ada@example.org"]')!.click();
    expect(await asked('/api/subscribers/restore', 'POST', { restored: 1 })).toEqual({ ids: [5] });
    await answerList();
    await page.fixture.whenStable();
    page.page.querySelector<HTMLButtonElement>('.reasons button')!.click();
    await page.fixture.whenStable();
    const question = await page.loader.getHarness(MatDialogHarness);
    expect(await question.getText()).toContain('Restore 37 subscribers?');
    page.page.ownerDocument
      .querySelectorAll<HTMLButtonElement>('mat-dialog-container button')
      .forEach((b) => {
        if (b.textContent?.includes('Restore 37')) b.click();
      });
    expect(await asked('/api/subscribers/restore', 'POST', { restored: 37 })).toEqual({ reason });
  });
});
