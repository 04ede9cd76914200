import { answer, card, packedCards, plan, person, work } from '../../testing/newsroom';
import { PlannerService } from './planner.service';
import { CarryService } from './carry.service';

const isla = { id: 2, name: 'Isla Nettle', initials: 'IN' };
const slot = (parts: object = {}) => ({
  slotId: 1,
  date: '2026-12-01',
  time: '08:00',
  categoryId: 1,
  format: '',
  ...parts,
});
async function open(...[cards, parts]: Parameters<typeof plan>) {
  const planner = await work(PlannerService, { providers: [CarryService] });
  const shown = planner.show(undefined, 4);
  await answer((r) => r.flush(plan(cards, parts)), '/api/planner');
  await shown;
  return planner;
}

describe('the planner’s view', () => {
  it('shows the posts that pass the filter, and counts open slots over all', async () => {
    const planner = await open([
      card({ id: 1, categoryId: 1, byline: isla }),
      card({ id: 2, categoryId: 2, stage: 'drafting' }),
    ]);
    expect(planner.shown().map((p) => p.id)).toEqual([1, 2]);
    planner.filter.set({ categoryId: 2, personId: null, stage: null });
    expect(planner.shown().map((p) => p.id)).toEqual([2]);
    planner.filter.set({ categoryId: null, personId: 2, stage: 'commissioned' });
    expect(planner.shown().map((p) => p.id)).toEqual([1]);
    planner.filter.set({ categoryId: null, personId: 2, stage: 'drafting' });
    expect(planner.shown()).toEqual([]);
  });

  it('draws a move that is under way before the server has said so, and lets it go again', async () => {
    const planner = await open([card({ id: 1 })]);
    planner.underWay.set(
      new Map([[1, { stage: 'commissioned', runLocal: '2026-12-03T09:00:00', byline: null }]]),
    );
    expect(planner.shown()[0]!.runLocal).toBe('2026-12-03T09:00:00');
    planner.underWay.set(new Map());
    expect(planner.shown()[0]!.runLocal).toBe('2026-12-01T08:00:00');
  });

  it('takes an answer about one post alone: into the tray, out of the weeks, among the late', async () => {
    const planner = await open([card({ id: 1 }), card({ id: 2, stage: 'pitch', runLocal: null })]);
    planner.receive(card({ id: 1, version: 4, stage: 'pitch', runLocal: null }));
    expect(
      planner
        .view()!
        .pitches.map((p) => p.id)
        .sort(),
    ).toEqual([1, 2]);
    expect(planner.shown()).toEqual([]);
    planner.receive(card({ id: 2, version: 4, runLocal: '2027-02-01T08:00:00' }));
    expect([planner.view()!.pitches.length, planner.shown().length]).toEqual([1, 0]);
    planner.receive(card({ id: 1, version: 5, late: true }));
    expect(planner.view()!.late.map((p) => p.id)).toEqual([1]);
    planner.receive(card({ id: 1, version: 6, late: false }));
    expect(planner.view()!.late).toEqual([]);
  });

  it('hears of a change and fetches that card alone; an older answer changes nothing', async () => {
    const planner = await open([card({ id: 1, version: 3 })]);
    const heard = (version: number, title: string) => {
      const done = planner.hear([{ kind: 'post', postId: 1 } as never]);
      return answer(
        (r) => r.flush(packedCards([card({ id: 1, version, title })])),
        '/api/planner/cards',
      ).then(() => done);
    };
    await heard(4, 'Newer');
    expect(planner.shown()[0]!.title).toBe('Newer');
    await heard(2, 'Older');
    expect(planner.shown()[0]!.title).toBe('Newer');
  });

  it('fetches everything when a card that changed is not there any more', async () => {
    const planner = await open([card({ id: 1 })]);
    const done = planner.hear([{ kind: 'post', postId: 1 } as never]);
    await answer((r) => r.flush(packedCards([])), '/api/planner/cards');
    await answer((r) => r.flush(plan()), '/api/planner');
    await done;
    expect(planner.shown()).toEqual([]);
  });

  it('says what is against a date: another post of that hour, a day away, a wish of the pitch', async () => {
    const planner = await open([card({ id: 1, byline: isla })], {
      absences: [{ personId: 2, from: '2026-12-03', to: '2026-12-04', note: '' }] as never,
      writers: [person(2, 'Isla Nettle')] as never,
    });
    await new Promise((go) => setTimeout(go, 20));
    const one = planner.shown()[0]!;
    expect(planner.warningsAt(one, '2026-12-02', '08:00')).toEqual([]);
    expect(planner.warningsAt(one, '2026-12-03', '08:00')).not.toEqual([]);
    const wish = { notBefore: '2026-12-10', notAfter: null, mustBeOn: null };
    expect(planner.warningsAt({ ...one, dateConstraint: wish }, '2026-12-02', '08:00')).not.toEqual([]);
    // The same words are the same object, so that a card is not drawn anew.
    expect(planner.warningsOf(one)).toBe(planner.warningsOf(one));
  });

  it('gives a post the time of an open slot on its day, its own category’s first', async () => {
    const planner = await open([], {
      slots: [slot({ slotId: 1, time: '08:00', categoryId: 2 }), slot({ slotId: 2, time: '12:00' })] as never,
    });
    expect(planner.timeOn('2026-12-01', card({ categoryId: 1 }))).toBe('12:00');
    expect(planner.timeOn('2026-12-01', card({ categoryId: 3 }))).toBe('08:00');
    expect(planner.timeOn('2026-12-02', card({ runLocal: '2026-12-05T17:30:00' }))).toBe('17:30:00');
    expect(planner.timeOn('2026-12-02', card({ runLocal: null }))).toBe('08:00');
  });

  it('offers to move what is planned, and not what readers see', async () => {
    const planner = await open();
    expect(planner.mayPlan(card({ stage: 'scheduled' }))).toBe(true);
    expect(planner.mayPlan(card({ stage: 'published' }))).toBe(false);
    expect(planner.mayPlan(card({ stage: 'withdrawn' }))).toBe(false);
  });

  it('says what went wrong, and goes on showing what it has', async () => {
    const planner = await open([card({ id: 1 })]);
    const again = planner.refresh();
    await answer((r) => r.flush({}, { status: 503, statusText: 'Unavailable' }), '/api/planner');
    await again;
    expect(planner.error()).not.toBe('');
    expect(planner.shown()).toHaveLength(1);
  });
});
