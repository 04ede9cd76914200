import { TestBed } from '@angular/core/testing';
import { HttpTestingController } from '@angular/common/http/testing';
import { Live } from '../api/live';
import { answer, work } from '../../testing/newsroom';
import { ArchiveService } from './archive.service';
import { ChosenService } from './chosen.service';
import { TablePreferences } from './table-preferences.service';

const row = (id: number, title = `Post ${id}`) => ({ id, title }) as never;
let archive: ArchiveService;
async function open(): Promise<void> {
  archive = await work(ArchiveService, { providers: [ChosenService] });
  await answer((r) => r.flush({ filter: {}, people: [], tags: [] }), '/api/archive/names');
  await answer((r) => r.flush([]), '/api/formats');
  await answer((r) => r.flush([]), '/api/filters');
}
const find = async (line: string, ids: number[], rows = ids) => {
  const found = archive.find(line, '-run');
  await answer((r) => r.flush({ total: ids.length, stages: {}, bin: 0 }), '/api/archive/counts');
  await answer((r) => r.flush({ rows: rows.map((id) => row(id)) }), '/api/archive');
  await answer((r) => r.flush({ ids }), '/api/archive/ids');
  await found;
};
const picks = () => TestBed.inject(HttpTestingController).match((r) => r.url === '/api/archive/picked');

describe('the archive’s table', () => {
  it('has the first rows at once and the order of all right after', async () => {
    await open();
    await find('', [3, 2, 1], [3, 2]);
    expect([archive.ids(), [...archive.rows().keys()], archive.counts()?.total]).toEqual([
      [3, 2, 1],
      [3, 2],
      3,
    ]);
  });

  it('is not overtaken by the answer to an earlier question', async () => {
    await open();
    const http = TestBed.inject(HttpTestingController);
    const first = archive.find('stage:drafting', '-run');
    const [early] = http.match((r) => r.url === '/api/archive');
    const [earlyIds] = http.match((r) => r.url === '/api/archive/ids');
    http.match((r) => r.url === '/api/archive/counts');
    await find('stage:published', [8]);
    await first;
    expect([early!.cancelled, earlyIds!.cancelled]).toEqual([true, true]);
    expect([archive.line(), archive.ids()]).toEqual(['stage:published', [8]]);
  });

  it('fetches only rows that are not here, those wanted last', async () => {
    await open();
    await find('', [3, 2, 1], [3]);
    const wanted = archive.want([3, 2]);
    const [pick] = picks();
    expect(pick!.request.params.getAll('ids')).toEqual(['2']);
    pick!.flush({ rows: [row(2)], places: [] });
    await wanted;
    expect(archive.rows().has(2)).toBe(true);
  });

  it('fetches a changed row again, and says when the order may have moved', async () => {
    await open();
    await find('', [3, 2], [3, 2]);
    const live = TestBed.inject(Live) as unknown as { events: { next: (e: object) => void } };
    live.events.next({ kind: 'post', postId: 3 });
    await answer((r) => r.flush({ rows: [row(3, 'Renamed')], places: [] }), '/api/archive/picked');
    expect(archive.rows().get(3)).toMatchObject({ title: 'Renamed' });
    expect(archive.moved()).toBe(false);
    live.events.next({ kind: 'post', postId: 77 });
    expect(archive.moved()).toBe(true);
  });

  it('puts a filter into the line, and takes it out when it is there', async () => {
    await open();
    await find('stage:drafting ice', [1]);
    const category = { key: 'category', value: 'Walks', not: false } as const;
    const both = archive.lineWith(category);
    expect(both).toContain('category:Walks');
    await find(both, [1]);
    expect(archive.lineWith(category)).not.toContain('category');
    expect(archive.lineWith(category)).toContain('ice');
  });

  it('says what went wrong', async () => {
    await open();
    const found = archive.find('', '-run');
    await answer((r) => r.flush({}, { status: 500, statusText: 'No' }), '/api/archive');
    await found;
    expect(archive.error()).not.toBe('');
  });
});

describe('posts that are chosen', () => {
  it('stay chosen while one filters on, and are chosen over spans that are not loaded', async () => {
    await open();
    await find('', [5, 4, 3, 2, 1], [5]);
    const chosen = TestBed.inject(ChosenService);
    chosen.toggle(5);
    chosen.span(3, 1);
    expect(chosen.ids().sort()).toEqual([2, 3, 4, 5]);
    await find('ice', [1], [1]);
    expect([chosen.count(), chosen.all()]).toEqual([4, false]);
    await chosen.toggleAll();
    expect([chosen.count(), chosen.all()]).toEqual([5, true]);
    await chosen.toggleAll();
    expect(chosen.some()).toBe(false);
  });
});

describe('the columns of the table', () => {
  beforeEach(() => localStorage.clear());

  it('are remembered on this device with order, width and what is shown', async () => {
    const first = (await work(TablePreferences)).columns().map((c) => c.key);
    const table = TestBed.inject(TablePreferences);
    table.move('stage', -99);
    table.change('tags', { shown: true, width: 9999 });
    TestBed.resetTestingModule();
    const again = await work(TablePreferences);
    expect(again.columns()[0]!.key).toBe('stage');
    expect(again.columns().find((c) => c.key === 'tags')).toMatchObject({ shown: true, width: 420 });
    again.asFirst();
    expect(again.columns().map((c) => c.key)).toEqual(first);
  });

  it.each(['not json', '[]', 'null', '{"columns":[{"key":"gone","width":1,"shown":true}]}'])(
    'are the first ones when %s is remembered',
    async (kept) => {
      localStorage.setItem('key-roster.archive', kept);
      expect((await work(TablePreferences)).columns().length).toBe(14);
    },
  );
});
