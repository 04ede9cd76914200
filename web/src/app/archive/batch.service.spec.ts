import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { HttpTestingController } from '@angular/common/http/testing';
import type { BatchPreview } from '@keyroster/contract';
import { answer, refuse, work } from '../../testing/newsroom';
import { ArchiveService } from './archive.service';
import { BatchService } from './batch.service';

const batch = (parts: object = {}): BatchPreview =>
  ({
    id: 9,
    state: 'previewed',
    sentence: 'Byline becomes Isla Nettle',
    counts: { changes: 2, same: 0, refused: 0, left: 0 },
    chores: 0,
    done: 0,
    error: '',
    reverts: null,
    by: { id: 1, name: 'Mara Winslow', initials: 'MW' },
    ...parts,
  }) as BatchPreview;
const toIsla = { kind: 'byline', to: 2 } as const;

let service: BatchService;
async function open(): Promise<void> {
  const names = signal({ people: [{ id: 2, name: 'Isla Nettle' }], tags: [], filter: {} });
  service = await work(BatchService, { providers: [{ provide: ArchiveService, useValue: { names } }] });
  await answer((r) => r.flush([]), '/api/batches');
}
const asked = (method: string, url: string) =>
  TestBed.inject(HttpTestingController).match((r) => r.method === method && r.url === url);
const previewed = (parts: object = {}) => answer((r) => r.flush(batch(parts)), '/api/batches', 'POST');
const seen = (parts: object) => answer((r) => r.flush(batch(parts)), '/api/batches/9');
const items = (list: object[]) => answer((r) => r.flush(list), '/api/batches/9/items');

describe('a batch that is put together', () => {
  it('is previewed with what it does to each post, and says its changes in words', async () => {
    await open();
    service.add(toIsla);
    expect(service.sentences()).toEqual([expect.stringContaining('Isla Nettle')]);
    const looked = service.look([1, 2]);
    expect(service.looking()).toBe(true);
    await previewed();
    await items([{ postId: 1 }, { postId: 2 }]);
    await looked;
    expect([service.preview()?.id, service.items().length, service.looking()]).toEqual([9, 2, false]);
  });

  it('asks nothing while no post or no change is chosen', async () => {
    await open();
    await service.look([1]);
    service.add(toIsla);
    await service.look([]);
    expect(asked('POST', '/api/batches')).toEqual([]);
    expect(service.preview()).toBeNull();
  });

  it('is not applied once something else is chosen, until that is previewed', async () => {
    await open();
    service.add(toIsla);
    const looked = service.look([1, 2]);
    await previewed();
    await items([{ postId: 1 }, { postId: 2 }]);
    await looked;
    service.add({ kind: 'campaign', to: 'Thaw' });
    service.chosenAnew();
    await service.apply();
    expect([service.outdated(), asked('POST', '/api/batches/9/apply')]).toEqual([true, []]);
    const again = service.look([1, 2]);
    await previewed({ state: 'failed', error: 'Nobody is called that.' });
    await again;
    // Nothing of the one before is left to be applied.
    expect([service.preview(), service.error()]).toEqual([null, 'Nobody is called that.']);
    const third = service.look([1]);
    await previewed();
    await items([{ postId: 1 }]);
    await third;
    expect(service.outdated()).toBe(false);
    // A look that is cancelled leaves none either.
    void service.look([1, 2]);
    service.cancelLook();
    expect(service.preview()).toBeNull();
  });

  it('shows nothing of a look whose answer comes after something else was chosen', async () => {
    await open();
    service.add(toIsla);
    const looked = service.look([1, 2]);
    await previewed();
    // Its posts are on their way.
    const [late] = asked('GET', '/api/batches/9/items');
    service.add({ kind: 'campaign', to: 'Thaw' });
    service.chosenAnew();
    await looked;
    expect([late!.cancelled, service.preview(), service.outdated()]).toEqual([true, null, true]);
  });

  it('keeps out what was left out when something is added, until it is taken in or not chosen any more', async () => {
    await open();
    service.add(toIsla);
    const first = service.look([1, 2]);
    await previewed();
    await items([
      { postId: 1, state: 'changes' },
      { postId: 2, state: 'changes' },
    ]);
    await first;
    const left = service.choose(2, 'left');
    await answer((r) => r.flush(batch({ counts: { changes: 1, left: 1 } })), '/api/batches/9', 'PATCH');
    await left;
    service.add({ kind: 'campaign', to: 'Thaw' });
    const again = service.look([1, 2]);
    await previewed();
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toEqual({ leave: [2] });
        r.flush(batch({ counts: { changes: 1, left: 1 } }));
      },
      '/api/batches/9',
      'PATCH',
    );
    await items([
      { postId: 1, state: 'changes' },
      { postId: 2, state: 'left' },
    ]);
    await again;
    expect([service.preview()?.counts.changes, service.items()[1]?.state]).toEqual([1, 'left']);
    const without = service.look([1]);
    await previewed();
    await items([{ postId: 1, state: 'changes' }]);
    await without;
    expect(service.preview()?.counts.changes).toBe(2);
  });

  it('that is undone keeps its preview while nothing else is put together', async () => {
    await open();
    service.add(toIsla);
    const undone = service.revert(7);
    expect(service.outdated()).toBe(true);
    // What was chosen is gone, which the panel tells as any choice.
    service.chosenAnew();
    await service.look([1, 2]);
    await answer((r) => r.flush(batch({ reverts: 7 })), '/api/batches/7/back', 'POST');
    await items([{ postId: 1 }]);
    await undone;
    expect([service.preview()?.reverts, service.outdated()]).toEqual([7, false]);
    service.add(toIsla);
    service.chosenAnew();
    expect(service.outdated()).toBe(true);
  });

  it('lets an earlier question go when another is asked', async () => {
    await open();
    service.add(toIsla);
    const first = service.look([1]);
    const second = service.look([1, 2]);
    const [one, two] = asked('POST', '/api/batches');
    two!.flush(batch({ counts: { changes: 2, same: 0, refused: 0, left: 0 } }));
    await items([{ postId: 1 }, { postId: 2 }]);
    await second;
    await first;
    expect(one!.cancelled).toBe(true);
    expect(service.preview()?.counts.changes).toBe(2);
  });

  it('follows a look through many texts until there is something to show', async () => {
    await open();
    service.add(toIsla);
    const looked = service.look([1]);
    await previewed({ state: 'looking', done: 0 });
    expect(service.through()?.id).toBe(9);
    await seen({ state: 'looking', done: 40 });
    expect(service.through()?.done).toBe(40);
    await seen({ state: 'previewed' });
    await items([]);
    await looked;
    expect([service.through(), service.preview()?.id]).toEqual([null, 9]);
  });

  it('cancels on the server what is not waited for any more', async () => {
    await open();
    service.add(toIsla);
    const looked = service.look([1]);
    await previewed({ state: 'looking' });
    service.cancelLook();
    await answer((r) => r.flush({}), '/api/batches/9/cancel', 'POST');
    await looked;
    expect([service.through(), service.preview(), service.done()]).toEqual([
      null,
      null,
      'Stopped. Nothing was written.',
    ]);
  });

  it('goes on looking after an answer that was lost, and ends when the batch is gone', async () => {
    await open();
    service.add(toIsla);
    const looked = service.look([1]);
    await previewed({ state: 'looking' });
    await answer((r) => r.error(new ProgressEvent('error')), '/api/batches/9');
    await answer(refuse({ code: 'not-found', detail: 'There is no such batch.' }), '/api/batches/9');
    await looked;
    expect(service.error()).toContain('There is no such batch.');
    expect(service.through()).toBeNull();
  });
});

describe('a batch that is applied', () => {
  const apply = async () => {
    await open();
    service.add(toIsla);
    const looked = service.look([1, 2]);
    await previewed();
    await items([]);
    await looked;
    return service.apply();
  };
  const applied = (parts: object) => answer((r) => r.flush(batch(parts)), '/api/batches/9/apply', 'POST');

  it('is followed to its end, and then stands in the log', async () => {
    const done = apply();
    await applied({ state: 'waiting', done: 0 });
    expect(service.running()?.id).toBe(9);
    await seen({ state: 'waiting', done: 1 });
    expect(service.running()?.done).toBe(1);
    await seen({ state: 'applied' });
    await answer((r) => r.flush([batch({ state: 'applied' })]), '/api/batches');
    await done;
    expect(service.running()).toBeNull();
    expect(service.done()).toBe('Byline becomes Isla Nettle: done in 2 posts.');
    expect(service.log()).toHaveLength(1);
    expect(service.changes()).toEqual([]);
  });

  it('that fails says why', async () => {
    const done = apply();
    await applied({ state: 'failed', error: 'The posts changed meanwhile.' });
    await answer((r) => r.flush([]), '/api/batches');
    await done;
    expect([service.error(), service.done()]).toEqual(['The posts changed meanwhile.', '']);
  });

  it('is not asked about any more once its page is left', async () => {
    const done = apply();
    await applied({ state: 'waiting', done: 1 });
    const http = TestBed.inject(HttpTestingController);
    TestBed.resetTestingModule();
    await new Promise((go) => setTimeout(go, 900));
    expect(http.match(() => true)).toEqual([]);
    await Promise.race([done, new Promise((go) => setTimeout(go))]);
  });
});
