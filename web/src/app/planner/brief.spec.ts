import type { HttpRequest } from '@angular/common/http';
import type { PostView } from '@keyroster/contract';
import { answer, person, post, refuse, show, type Shown } from '../../testing/newsroom';
import { choose, line, press, type } from '../../testing/hands';
import { BriefDialog } from './brief';

let brief: Shown<BriefDialog>;
async function open(parts: Partial<PostView> = {}): Promise<void> {
  brief = await show(BriefDialog, { data: { id: 7, alike: null, movable: true } });
  await answer((r) => r.flush(post(parts)), '/api/posts/7');
  await answer((r) => r.flush([person(2, 'Isla Nettle'), person(3, 'Dot Pascoe', 'reader')]), '/api/people');
  await brief.fixture.whenStable();
}
/** Gives the brief and answers with the post as it would stand. */
async function give(): Promise<Record<string, unknown>> {
  await press(brief.loader, /Save|Give the brief/);
  let sent!: HttpRequest<string>;
  await answer(
    (r) => {
      sent = r.request as HttpRequest<string>;
      r.flush({ post: post({ byline: person(2, 'Isla Nettle') }), sentence: 'Changed.' });
    },
    '/api/posts/7',
    'PATCH',
  );
  expect(sent.headers.get('If-Match')).toBe('"3"');
  return JSON.parse(sent.body!) as Record<string, unknown>;
}

describe('a brief', () => {
  it('sends what was changed, and nothing that was not', async () => {
    await open();
    await choose(brief.loader, 'Who writes it', 'Isla Nettle, contributor');
    await type(brief.loader, 'Angle: what is asked for', 'Count the lamps');
    await type(brief.loader, 'Length in words', '800');
    await type(brief.loader, 'Copy date', '10.12.');
    expect(await give()).toEqual({
      bylineId: 2,
      brief: { angle: 'Count the lamps', length: 800, copyDate: '2026-12-10' },
    });
    expect(brief.closed).toEqual([expect.objectContaining({ id: 7 })]);
  });

  it('keeps the days a pitch asks for', async () => {
    await open({
      stage: 'pitch',
      dateConstraint: { notBefore: '2026-12-01', notAfter: null, mustBeOn: null },
    });
    expect(await (await line(brief.loader, 'Not before')).getValue()).toBe('Tue 1 Dec 2026');
    await type(brief.loader, 'Not before', '');
    await type(brief.loader, 'Must be on', '24 Dec 2026');
    await choose(brief.loader, 'Rating', '4 of 5');
    expect(await give()).toMatchObject({
      dateConstraint: { notBefore: null, notAfter: null, mustBeOn: '2026-12-24' },
      rating: 4,
    });
  });

  it.each([
    ['Copy date', 'soonish', 'Type a day, like 1 Dec 2026.'],
    ['Length in words', '0', 'A whole number from 1 to 100000.'],
  ])('asks for nothing while %s is “%s”', async (label, typed, sentence) => {
    await open();
    await type(brief.loader, label, typed);
    await press(brief.loader, 'Give the brief');
    expect(brief.page.textContent).toContain(sentence);
    expect(brief.closed).toEqual([]);
  });

  it('proposes a copy date five days before the run time, but none that has passed', async () => {
    await open({ runLocal: '2036-12-10T08:00:00' });
    expect(await (await line(brief.loader, 'Copy date')).getValue()).toBe('Fri 5 Dec 2036');
    await open2('2020-12-10T08:00:00');
    expect(await (await line(brief.loader, 'Copy date')).getValue()).toBe('');
  });
  const open2 = async (runLocal: string) => {
    const { TestBed } = await import('@angular/core/testing');
    TestBed.resetTestingModule();
    await open({ runLocal });
  };

  it('keeps what was typed when somebody else was quicker, and puts it on top when it is given again', async () => {
    await open();
    await type(brief.loader, 'Angle: what is asked for', 'Count the lamps');
    await press(brief.loader, 'Give the brief');
    await answer(
      refuse({ code: 'version-conflict', detail: 'Edda Thorne changed it.', version: 5 }),
      '/api/posts/7',
      'PATCH',
    );
    await brief.fixture.whenStable();
    expect(brief.page.querySelector('[role=alert]')!.textContent).toBe(
      'Edda Thorne changed it. What you typed is still here; give the brief again to put it on top.',
    );
    await press(brief.loader, 'Give the brief');
    await answer(
      (r) => {
        expect(r.request.headers.get('If-Match')).toBe('"5"');
        r.flush({ post: post(), sentence: '' });
      },
      '/api/posts/7',
      'PATCH',
    );
  });

  it('is read, not changed, by those who may not', async () => {
    await open({ rights: { write: false, details: false, plan: false, note: true } as never });
    for (const label of ['Copy date', 'Length in words', 'Angle: what is asked for'])
      expect(await (await line(brief.loader, label)).isDisabled()).toBe(true);
    expect(brief.page.querySelector('button[type=submit]')).toBeNull();
  });
});
