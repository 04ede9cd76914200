import { answer, work } from '../../testing/newsroom';
import { BatchLogItems } from './batch-log-items.service';

const page = (from: number, n: number) => Array.from({ length: n }, (_, i) => ({ postId: from + i }));
const ids = (log: BatchLogItems) => log.items().map((i) => i.postId);
const asked = (id: number, from: number, n: number) =>
  answer((r) => {
    expect(r.request.urlWithParams).toContain(`from=${from}`);
    r.flush(page(from, n));
  }, `/api/batches/${id}/items`);

describe('what a past batch did', () => {
  it('comes a page at a time, each once', async () => {
    const log = await work(BatchLogItems);
    log.open(3);
    await asked(3, 0, 2);
    log.more();
    log.more();
    await asked(3, 2, 1);
    await expect(asked(3, 2, 1)).rejects.toThrow('Nobody asked');
    expect(ids(log)).toEqual([0, 1, 2]);
  });

  it('is of the batch that is open, whatever is answered late', async () => {
    const log = await work(BatchLogItems);
    log.open(3);
    log.open(4);
    await asked(4, 0, 1);
    await expect(asked(3, 0, 2)).rejects.toThrow('Nobody asked');
    expect(ids(log)).toEqual([0]);
    log.open(0);
    expect(ids(log)).toEqual([]);
  });

  it('can be asked for again after an answer that did not come', async () => {
    const log = await work(BatchLogItems);
    log.open(3);
    await answer((r) => r.error(new ProgressEvent('error')), '/api/batches/3/items');
    log.more();
    await asked(3, 0, 1);
    expect(ids(log)).toEqual([0]);
  });
});
