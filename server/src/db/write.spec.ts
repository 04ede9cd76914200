import { Newsroom } from '../testing/newsroom.js';
import { inTransaction } from './write.js';

let room: Newsroom;
beforeAll(async () => {
  room = await Newsroom.make();
  await room.db.raw('create table one_row (n integer not null)');
  await room.db('one_row').insert({ n: 0 });
});
afterAll(() => room.close());

describe('work in a transaction', () => {
  it('is done anew when PostgreSQL ends it because of another, and both get through', async () => {
    let looking = 0;
    let bothLook!: () => void;
    const both = new Promise<void>((resolve) => (bothLook = resolve));
    let runs = 0;
    const raise = () =>
      inTransaction(room.db, async (trx) => {
        runs++;
        // Whoever comes second would write over what they have not seen: PostgreSQL ends it.
        await trx.raw('set transaction isolation level repeatable read');
        const { n } = (await trx('one_row').first<{ n: number }>('n'))!;
        if (++looking === 2) bothLook();
        await both;
        await trx('one_row').update({ n: n + 1 });
      });
    await Promise.all([raise(), raise()]);
    expect(await room.db('one_row').pluck('n')).toEqual([2]);
    expect(runs).toBe(3);
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
