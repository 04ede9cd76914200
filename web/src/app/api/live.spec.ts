import { jest } from '@jest/globals';
import { TestBed } from '@angular/core/testing';
import type { LiveEvent } from '@keyroster/contract';
import type { Subject } from 'rxjs';
import { Live } from './live';

const tell = (live: Live, kind: LiveEvent['kind']) =>
  (live as unknown as { events: Subject<Partial<LiveEvent>> }).events.next({ kind });
/** As long as events are gathered, and as long again. */
const gathered = () => jest.advanceTimersByTimeAsync(300);

describe('changes in the newsroom', () => {
  beforeEach(() => jest.useFakeTimers());
  afterEach(() => jest.useRealTimers());

  it('are asked for one after the other, the newest last, however slow the answers', async () => {
    const live = TestBed.inject(Live);
    const answers: (() => void)[] = [];
    TestBed.runInInjectionContext(() =>
      live.whenever(['post'], () => new Promise<void>((done) => answers.push(done))),
    );
    tell(live, 'post');
    tell(live, 'post');
    tell(live, 'note');
    await gathered();
    expect(answers).toHaveLength(1);
    tell(live, 'post');
    await gathered();
    tell(live, 'post');
    await gathered();
    expect(answers).toHaveLength(1);
    answers[0]!();
    await gathered();
    expect(answers).toHaveLength(2);
    answers[1]!();
    await gathered();
    expect(answers).toHaveLength(2);
  });

  it('go on being heard when an answer was an error', async () => {
    const live = TestBed.inject(Live);
    let asked = 0;
    TestBed.runInInjectionContext(() =>
      live.whenever(['letter'], () => Promise.reject(new Error(`${++asked}`))),
    );
    tell(live, 'letter');
    await gathered();
    tell(live, 'letter');
    await gathered();
    expect(asked).toBe(2);
  });

  it('may be anything after a lost connection: every kind is heard, but no batch that nobody made', () => {
    const sources: { onopen?: () => void; onerror?: () => void }[] = [];
    Object.assign(globalThis, {
      EventSource: class {
        static readonly CLOSED = 2;
        constructor() {
          sources.push(this as never);
        }
        close(): void {}
      },
    });
    const live = TestBed.inject(Live);
    const heard: string[] = [];
    live.all().subscribe((e) => heard.push(e.kind));
    live.open();
    sources[0]!.onopen!();
    expect(heard).toEqual([]);
    sources[0]!.onerror!();
    expect(live.connected()).toBe(false);
    sources[0]!.onopen!();
    expect(heard).toEqual(expect.arrayContaining(['post', 'media', 'text', 'letter', 'special']));
    expect(heard).not.toContain('batch');
  });
});
