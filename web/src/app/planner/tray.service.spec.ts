import { TestBed } from '@angular/core/testing';
import { answer, card, plan, work } from '../../testing/newsroom';
import { PlannerPreferences } from './planner-preferences.service';
import { PlannerService } from './planner.service';
import { TrayService } from './tray.service';

const pitch = (id: number, parts: object = {}) =>
  card({ id, stage: 'pitch', runLocal: null, title: `Pitch ${id}`, ...parts });
const isla = { id: 2, name: 'Isla Nettle', initials: 'IN' };
let tray: TrayService;
async function open(...pitches: ReturnType<typeof pitch>[]): Promise<void> {
  tray = await work(TrayService, { providers: [PlannerService] });
  const shown = TestBed.inject(PlannerService).show(undefined, 4);
  await answer((r) => r.flush(plan(pitches)), '/api/planner');
  await shown;
}
const order = () => tray.found().map((p) => p.id);
const groups = () => tray.groups().map((g) => [g.name, g.pitches.map((p) => p.id)]);
beforeEach(() => localStorage.clear());

describe('the pitch tray', () => {
  it('finds by words in title, thought and byline, all of them', async () => {
    await open(
      pitch(1, { title: 'Ice on the pound', thought: 'a walk' }),
      pitch(2, { title: 'Ice and engines', byline: isla }),
    );
    tray.words.set('ICE walk');
    expect(order()).toEqual([1]);
    tray.words.set('nettle');
    expect(order()).toEqual([2]);
    tray.words.set('nothing of the kind');
    expect([order(), groups()]).toEqual([[], []]);
  });

  it.each([
    ['newest', [3, 2, 1]],
    ['oldest', [1, 2, 3]],
    ['best rated', [2, 3, 1]],
    ['pressing', [1, 3, 2]],
  ] as const)('%s first', async (sort, ids) => {
    await open(
      pitch(1, {
        createdAt: '2026-11-01T09:00:00Z',
        dateConstraint: { notBefore: null, notAfter: '2026-12-01', mustBeOn: null },
      }),
      // A full second is not behind its own parts.
      pitch(2, { createdAt: '2026-11-02T09:00:00Z', rating: 5 }),
      pitch(3, { createdAt: '2026-11-02T09:00:00.500Z' }),
    );
    TestBed.inject(PlannerPreferences).remember({ sort });
    expect(order()).toEqual(ids);
  });

  it('is grouped by category, by writer, by rating or not at all', async () => {
    await open(pitch(1, { categoryId: 2, rating: 4 }), pitch(2, { categoryId: null, byline: isla }));
    const by = (group: 'category' | 'writer' | 'rating' | 'nothing') => {
      TestBed.inject(PlannerPreferences).remember({ group });
      return groups();
    };
    expect(by('category')).toEqual([
      ['No category yet', [2]],
      ['Walks', []],
      ['Engines', [1]],
    ]);
    expect(by('writer')).toEqual([
      ['Isla Nettle', [2]],
      ['Open to anybody', [1]],
    ]);
    expect(by('rating')).toEqual([
      ['Rated 4', [1]],
      ['Not rated', [2]],
    ]);
    expect(by('nothing')).toEqual([['All pitches', expect.arrayContaining([1, 2])]]);
  });

  it('asks once what is alike when several pitches came in a row', async () => {
    await open(pitch(1));
    const planner = TestBed.inject(PlannerService);
    for (const id of [2, 3]) planner.receive(pitch(id));
    await answer((r) => r.flush([{ id: 3, other: { id: 1 }, score: 0.8 }]), '/api/pitches/alike');
    expect([...tray.alike().keys()]).toEqual([3]);
  });

  it('rates a pitch, and takes a rating away', async () => {
    await open(pitch(1));
    const rated = tray.rate(tray.found()[0]!, 4);
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toEqual({ rating: 4 });
        r.flush({ post: pitch(1, { version: 4, rating: 4 }), sentence: '' });
      },
      '/api/posts/1',
      'PATCH',
    );
    await rated;
    expect(tray.found()[0]!.rating).toBe(4);
  });
});

describe('how somebody likes the planner', () => {
  it('is remembered on this device, and nothing that is no fact', async () => {
    localStorage.setItem('key-roster.planner', '{"facts":["time","gone"],"weeks":"6","sort":"sideways"}');
    const taste = await work(PlannerPreferences);
    expect([[...taste.facts()], taste.weeks(), taste.sort()]).toEqual([['time'], '6', 'newest']);
    taste.toggle('excerpt');
    expect(JSON.parse(localStorage.getItem('key-roster.planner')!)).toMatchObject({
      facts: ['time', 'excerpt'],
    });
  });

  it('begins as usual when what is remembered cannot be read', async () => {
    localStorage.setItem('key-roster.planner', 'not json');
    const taste = await work(PlannerPreferences);
    expect([...taste.facts()]).toEqual(['byline', 'time', 'stage', 'reads']);
  });
});
