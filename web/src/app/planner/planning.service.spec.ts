import { HttpTestingController } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import type { PlanFacts, PlanTask, Placing } from '@keyroster/core';
import { answer, plan, refuse, work } from '../../testing/newsroom';
import { press, dialogGone } from '../../testing/hands';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { Component } from '@angular/core';
import { PlannerService } from './planner.service';
import { PlanningService } from './planning.service';
import type { PlanAsked, PlanTold } from './plan-work';

/** A worker that the test answers for. */
class QuietWorker extends EventTarget {
  static made: QuietWorker[] = [];
  asked: PlanAsked | null = null;
  ended = false;
  constructor() {
    super();
    QuietWorker.made.push(this);
  }
  postMessage(asked: PlanAsked): void {
    this.asked = asked;
  }
  terminate(): void {
    this.ended = true;
  }
  tell(told: Partial<PlanTold>): void {
    const data = { found: null, gap: 0, optimal: false, done: false, ...told };
    this.dispatchEvent(new MessageEvent('message', { data }));
  }
}
@Component({ template: '' })
class Nothing {}

const task: PlanTask = { kind: 'fill', from: '2026-11-27', to: '2026-12-20' };
const slot = {
  slotId: 1,
  date: '2026-12-07',
  time: '08:00',
  categoryId: 1,
  format: '',
  movedFrom: null,
};
const facts = {
  today: '2026-11-26',
  slots: [slot],
  posts: [],
  pitches: [
    { id: 5, title: 'Weirs' },
    { id: 6, title: 'Stoves' },
  ],
  writers: [{ id: 2, name: 'Isla Nettle' }],
} as unknown as PlanFacts;
const placing = (pitchId: number, key = '1|2026-12-07'): Placing => ({ pitchId, slot: key, writerId: 2 });
const found = (...placings: Placing[]) => ({
  explanation: {
    placings: placings.map((p) => ({
      ...p,
      date: '2026-12-07',
      time: '08:00',
      copy: '2026-12-04',
      cleared: '2026-12-06',
      pinned: false,
      why: [],
    })),
    open: [],
    unmet: [],
  },
  slots: 2,
  changes: [],
  lines: [],
});

let planning: PlanningService;
const worker = () => QuietWorker.made.at(-1)!;
async function open(): Promise<void> {
  QuietWorker.made = [];
  // The browser of the tests measures nothing.
  performance.measure = (() => undefined) as unknown as typeof performance.measure;
  globalThis.Worker = QuietWorker as unknown as typeof Worker;
  planning = await work(PlanningService, { providers: [PlannerService] });
  const shown = TestBed.inject(PlannerService).show(undefined, 4);
  await answer((r) => r.flush(plan()), '/api/planner');
  await shown;
  await ask();
}
async function ask(): Promise<void> {
  const asked = planning.propose(task);
  await answer((r) => {
    expect(r.request.params.get('from')).toBe('2026-11-27');
    r.flush(facts);
  }, '/api/plan');
  await asked;
}

describe('a plan that is proposed', () => {
  it('is looked for beside the screen, drawn as it gets better, and says when it is proven', async () => {
    await open();
    expect(worker().asked).toMatchObject({ task, wishes: { pinned: [] } });
    expect(planning.busy()).toBe(true);
    worker().tell({ found: found(placing(5)), gap: 0.02 });
    expect([planning.gap(), planning.optimal(), planning.draftIn(slot)?.pitchId]).toEqual([0.02, false, 5]);
    expect([planning.title(5), planning.writer(2), planning.writer(99)]).toEqual([
      'Weirs',
      'Isla Nettle',
      'somebody who left',
    ]);
    worker().tell({ gap: 0, optimal: true, done: true });
    expect([planning.busy(), planning.optimal(), worker().ended]).toEqual([false, true, true]);
    await planning.propose(null);
    expect([planning.found(), planning.draftIn(slot)]).toEqual([null, null]);
  });

  it('can be stopped, and keeps what was found so far', async () => {
    await open();
    worker().tell({ found: found(placing(5)), gap: 0.02 });
    planning.stop();
    expect([worker().ended, planning.busy(), planning.placings().length]).toEqual([true, false, 1]);
  });

  it('is worked out anew round what is pinned and what is left out', async () => {
    await open();
    worker().tell({ found: found(placing(5)), done: true });
    planning.pin(placing(5), true);
    expect(planning.isPinned(placing(5))).toBe(true);
    planning.exclude(placing(6, '1|2026-12-14'), 'pitch');
    expect(worker().asked!.wishes).toMatchObject({
      pinned: [placing(5)],
      excluded: { pitches: [6] },
    });
    planning.exclude(placing(5), 'slot');
    expect(worker().asked!.wishes).toMatchObject({
      pinned: [],
      excluded: { pitches: [6], slots: ['1|2026-12-07'] },
    });
    planning.reset();
    expect(worker().asked!.wishes.excluded.pitches).toEqual([]);
    expect(QuietWorker.made.slice(0, -1).every((w) => w.ended)).toBe(true);
  });

  it('remembers what was pinned when the page is loaded anew, and for another plan it does not', async () => {
    sessionStorage.clear();
    await open();
    planning.pin(placing(5), true);
    TestBed.resetTestingModule();
    await open();
    expect(planning.wishes().pinned).toEqual([placing(5)]);
    expect(worker().asked!.wishes.pinned).toEqual([placing(5)]);
    const asked = planning.propose({ ...task, to: '2026-12-27' });
    await answer((r) => r.flush(facts), '/api/plan');
    await asked;
    expect(planning.wishes().pinned).toEqual([]);
    sessionStorage.clear();
  });

  it('keeps what was pinned and not ticked when a day passes', async () => {
    sessionStorage.clear();
    await open();
    worker().tell({ found: found(placing(5), placing(6, '1|2026-12-14')), done: true });
    planning.pin(placing(5), true);
    planning.tick(6, false);
    const tomorrow = { ...task, from: '2026-11-28' };
    const asked = planning.propose(tomorrow);
    await answer((r) => r.flush(facts), '/api/plan');
    await asked;
    expect(worker().asked).toMatchObject({ task: tomorrow, wishes: { pinned: [placing(5)] } });
    expect([planning.isTicked(5), planning.isTicked(6)]).toEqual([true, false]);
    // Nor are they forgotten when the page is loaded anew on that day.
    TestBed.resetTestingModule();
    await open();
    await planning.propose(null);
    const again = planning.propose(tomorrow);
    await answer((r) => r.flush(facts), '/api/plan');
    await again;
    expect(planning.wishes().pinned).toEqual([placing(5)]);
    sessionStorage.clear();
  });

  it('is accepted without what is not ticked', async () => {
    await open();
    worker().tell({ found: found(placing(5), placing(6, '1|2026-12-14')), done: true });
    planning.tick(6, false);
    expect(planning.places().map((p) => p.pitchId)).toEqual([5]);
    const accepted = planning.accept();
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toEqual({
          task,
          places: [{ postId: 5, slot: '1|2026-12-07', writerId: 2 }],
          leaveMisfits: false,
        });
        r.flush({ sentence: '1 pitch commissioned by the plan.', batchId: 3, misfits: [] });
      },
      '/api/plan',
      'POST',
    );
    await answer((r) => r.flush(plan()), '/api/planner');
    await answer((r) => r.flush(facts), '/api/plan');
    await accepted;
    expect(document.body.textContent).toContain('1 pitch commissioned by the plan.');
  });

  it('asks before it leaves out what no longer fits', async () => {
    await open();
    worker().tell({ found: found(placing(5), placing(6, '1|2026-12-14')), done: true });
    const accepted = planning.accept();
    const misfit = {
      postId: 6,
      title: 'Stoves',
      why: '“Stoves” cannot be held: the slot is not open any more.',
    };
    await answer(
      (r) => r.flush({ sentence: '1 of 2 no longer fits.', batchId: null, misfits: [misfit] }),
      '/api/plan',
      'POST',
    );
    const loader = TestbedHarnessEnvironment.documentRootLoader(TestBed.createComponent(Nothing));
    await press(loader, 'Accept the other 1');
    await dialogGone();
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toMatchObject({ leaveMisfits: true });
        r.flush({ sentence: '1 pitch commissioned by the plan.', batchId: 3, misfits: [misfit] });
      },
      '/api/plan',
      'POST',
    );
    await answer((r) => r.flush(plan()), '/api/planner');
    await answer((r) => r.flush(facts), '/api/plan');
    await accepted;
  });

  it('says so when nothing fits any more, and when the server refuses', async () => {
    await open();
    worker().tell({ found: found(placing(5)), done: true });
    let accepted = planning.accept();
    await answer(
      (r) =>
        r.flush({
          sentence: 'Nothing of the plan fits any more. Nothing was changed.',
          batchId: null,
          misfits: [{ postId: 5, title: 'Weirs', why: 'The slot is not open any more.' }],
        }),
      '/api/plan',
      'POST',
    );
    await answer((r) => r.flush(plan()), '/api/planner');
    await answer((r) => r.flush(facts), '/api/plan');
    await accepted;
    expect(planning.error()).toContain('Nothing of the plan fits any more.');
    worker().tell({ found: found(placing(5)), done: true });
    accepted = planning.accept();
    await answer(refuse({ detail: 'Not yours to plan.' }), '/api/plan', 'POST');
    await accepted;
    expect(planning.error()).toBe('Not yours to plan.');
    TestBed.inject(HttpTestingController).verify();
  });
});
