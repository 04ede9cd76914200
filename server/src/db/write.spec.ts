import { Newsroom } from '../testing/newsroom.js';
import { inTransaction } from './write.js';

let room: Newsroom;
beforeAll(async () => {
  room = await Newsroom.make();
  await room.db.raw('create table two_rows (id integer primary key, n integer not null)');
  await room.db('two_rows').insert([
    { id: 1, n: 0 },
    { id: 2, n: 0 },
  ]);
});
afterAll(() => room.close());

describe('work in a transaction', () => {
  it('is done anew when two wait for one another, and both get through', async () => {
    let holding = 0;
    let bothHold!: () => void;
    const both = new Promise<void>((resolve) => (bothHold = resolve));
    let runs = 0;
    const raise = (first: number, second: number) =>
      inTransaction(room.db, async (trx) => {
        runs++;
        await trx('two_rows').where({ id: first }).increment('n', 1);
        if (++holding === 2) bothHold();
        await both;
        await trx('two_rows').where({ id: second }).increment('n', 1);
      });
    await Promise.all([raise(1, 2), raise(2, 1)]);
    expect(await room.db('two_rows').orderBy('id').pluck('n')).toEqual([2, 2]);
    expect(runs).toBeGreaterThan(2);
  });

  it('is not done anew for any other fault, and not for ever', async () => {
    let runs = 0;
    const failing = (code?: string) =>
      inTransaction(room.db, () => {
        runs++;
        return Promise.reject(Object.assign(new Error('no'), { code }));
      });
    await expect(failing('23505')).rejects.toThrow('no');
    await expect(failing()).rejects.toThrow('no');
    expect(runs).toBe(2);
    await expect(failing('40P01')).rejects.toThrow('no');
    expect(runs).toBe(6);
  });
});
