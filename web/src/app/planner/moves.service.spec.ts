import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { HttpTestingController } from '@angular/common/http/testing';
import { answer, card, plan, refuse, work } from '../../testing/newsroom';
import { Messages } from '../ui/messages.service';
import { MovesService } from './moves.service';
import { PlannerService } from './planner.service';

const isla = { id: 2, name: 'Isla Nettle', initials: 'IN' };
let said: { sentence: string; undo?: () => Promise<void> | void }[];
let planner: PlannerService;
async function open(...cards: Parameters<typeof plan>): Promise<MovesService> {
  said = [];
  const messages = {
    done: (sentence: string, undo?: () => void) => said.push({ sentence, undo }),
    failed: (error: Error) => said.push({ sentence: error.message }),
  };
  const moves = await work(MovesService, {
    providers: [PlannerService, { provide: Messages, useValue: messages }],
  });
  planner = TestBed.inject(PlannerService);
  const shown = planner.show(undefined, 4);
  await answer((r) => r.flush(plan(...cards)), '/api/planner');
  await shown;
  return moves;
}
const done = (parts: object) => ({ post: card(parts), sentence: 'Moved.' });
const sent = (check: (body: unknown) => void, parts: object) =>
  answer(
    (r) => {
      check(JSON.parse(r.request.body as string));
      r.flush(done(parts));
    },
    '/api/posts/7',
    'PATCH',
  );
const lost = (path: string, method: string) =>
  answer((r) => r.error(new ProgressEvent('error')), path, method);

describe('a card that is moved', () => {
  beforeEach(() => localStorage.clear());

  it('stands at its new place at once, and stays when the server agrees', async () => {
    const moves = await open([card()]);
    const put = moves.put(planner.shown()[0]!, { to: 'day', date: '2026-12-03', time: '09:00' });
    expect(planner.shown()[0]!.runLocal).toBe('2026-12-03T09:00:00');
    await sent((body) => expect(body).toEqual({ runAt: '2026-12-03T09:00:00' }), {
      version: 4,
      runLocal: '2026-12-03T09:00:00',
    });
    expect((await put)?.post.version).toBe(4);
    expect(planner.underWay().size).toBe(0);
  });

  it('is given back when it is refused, and says why', async () => {
    const moves = await open([card()]);
    const put = moves.put(planner.shown()[0]!, { to: 'day', date: '2026-12-03' });
    await answer(refuse({ detail: 'It must be on 1 December.' }), '/api/posts/7', 'PATCH');
    await answer((r) => r.flush(plan([card()])), '/api/planner');
    expect(await put).toBeNull();
    expect(planner.shown()[0]!.runLocal).toBe('2026-12-01T08:00:00');
    expect(said[0]!.sentence).toBe('“Lamps along the feeder” was not moved. It must be on 1 December.');
  });

  it('does nothing when it is put where it is', async () => {
    const moves = await open([card()]);
    expect(await moves.put(planner.shown()[0]!, { to: 'day', date: '2026-12-01', time: '08:00' })).toBeNull();
    TestBed.inject(HttpTestingController).expectNone('/api/posts/7');
  });

  it('gets another writer with its day, in one change', async () => {
    const moves = await open([card()]);
    void moves.put(planner.shown()[0]!, { to: 'day', date: '2026-12-02', byline: isla });
    await sent((body) => expect(body).toEqual({ bylineId: 2, runAt: '2026-12-02T08:00:00' }), { version: 4 });
  });

  it('goes from the tray to a day by being commissioned, and back by its undo', async () => {
    const pitch = card({ stage: 'pitch', runLocal: null });
    const moves = await open([pitch]);
    const put = moves.put(pitch, { to: 'day', date: '2026-12-02', time: '08:00' });
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toEqual({
          to: 'commissioned',
          runAt: '2026-12-02T08:00:00',
        });
        r.flush(done({ version: 4, runLocal: '2026-12-02T08:00:00' }));
      },
      '/api/posts/7/moves',
      'POST',
    );
    const undo = moves.undo(pitch, (await put)!)();
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toEqual({ to: 'pitch' });
        r.flush(done({ version: 5, stage: 'pitch', runLocal: null }));
      },
      '/api/posts/7/moves',
      'POST',
    );
    await undo;
    expect(planner.view()!.pitches.map((p) => p.version)).toEqual([5]);
  });

  it('waits for a connection, says so, and is sent when there is one', async () => {
    const moves = await open([card()]);
    const put = moves.put(planner.shown()[0]!, { to: 'day', date: '2026-12-03', time: '09:00' });
    await lost('/api/posts/7', 'PATCH');
    expect(await put).toBeNull();
    expect([...moves.waiting()]).toEqual([7]);
    expect(planner.shown()[0]!.runLocal).toBe('2026-12-03T09:00:00');
    expect(localStorage.getItem('key-roster.moves.1')).toContain('2026-12-03T09:00:00');
    window.dispatchEvent(new Event('online'));
    await sent(() => undefined, { version: 4, runLocal: '2026-12-03T09:00:00' });
    await new Promise((go) => setTimeout(go, 10));
    expect(moves.waiting().size).toBe(0);
    expect(localStorage.getItem('key-roster.moves.1')).toBeNull();
    expect(said.at(-1)!.sentence).toBe('1 move that waited is stored now.');
  });

  it('that waited when the page was left is drawn and sent again', async () => {
    const first = await open([card()]);
    void first.put(planner.shown()[0]!, { to: 'day', date: '2026-12-03', time: '09:00' });
    await lost('/api/posts/7', 'PATCH');
    await new Promise((go) => setTimeout(go));
    TestBed.resetTestingModule();
    const moves = await open([card()]);
    expect([...moves.waiting()]).toEqual([7]);
    expect(planner.shown()[0]!.runLocal).toBe('2026-12-03T09:00:00');
  });

  it.each(['nonsense', '{"a":1}', 'null'])('nothing waits when %s is remembered', async (kept) => {
    localStorage.setItem('key-roster.moves.1', kept);
    expect((await open([card()])).waiting().size).toBe(0);
  });
});

describe('posts that cannot make their date', () => {
  it('go back into the tray as one, and come back as one', async () => {
    const moves = await open([]);
    Object.assign(planner, { hopeless: signal([card({ id: 1 }), card({ id: 2 })]) });
    const swept = moves.sweep();
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toEqual({ postIds: [1, 2] });
        r.flush({ sentence: '2 posts are back in the tray.', batchId: 12 });
      },
      '/api/planner/sweep',
      'POST',
    );
    await answer((r) => r.flush(plan()), '/api/planner');
    await swept;
    expect(said[0]!.sentence).toBe('2 posts are back in the tray.');
    const undone = said[0]!.undo!();
    await answer((r) => r.flush({}), '/api/batches/12/undo', 'POST');
    await answer((r) => r.flush(plan()), '/api/planner');
    await undone;
  });
});
