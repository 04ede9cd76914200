import { Newsroom } from '../testing/newsroom.js';
import { monthsOf, newestMonths } from './month-counts.js';

describe('the months of a blog', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
    const dates = [
      '2025-02-28 23:59',
      '2025-03-01 00:00',
      '2025-03-31 23:59',
      '2025-08-15 08:00',
      '2026-01-01 00:00',
    ];
    for (const date of dates) await published(date);
    // For members alone, and so in nobody else's months.
    await published('2026-02-10 08:00', 'members');
    await published('2025-08-20 08:00', 'members');
  });
  afterAll(() => room.close());

  async function published(date: string, access = 'everyone'): Promise<void> {
    const { id } = await room.published(`On ${date}`);
    await room
      .db('all_posts')
      .where({ id })
      .update({ run_local: date, run_at: `${date}Z`, access });
  }
  const ALL = [
    { month: '2026-01', posts: 1 },
    { month: '2025-08', posts: 1 },
    { month: '2025-03', posts: 2 },
    { month: '2025-02', posts: 1 },
  ];

  it('are counted by the blog’s own time, the newest first', async () => {
    expect(await monthsOf(room.db, { id: 1 })).toEqual(ALL);
  });

  it('are the same where only the newest are asked for', async () => {
    for (const most of [1, 2, 3, 4, 9])
      expect(await newestMonths(room.db, { id: 1 }, most)).toEqual(ALL.slice(0, most));
    expect(await newestMonths(room.db, { id: 2 }, 3)).toEqual([]);
  });
});
