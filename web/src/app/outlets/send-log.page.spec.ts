import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { MatSortHarness } from '@angular/material/sort/testing';
import type { SendView } from '@keyroster/contract';
import { answer, refuse, show, type Shown } from '../../testing/newsroom';
import { choose, press } from '../../testing/hands';
import { SendLogPage } from './send-log.page';

const send = (id: number, parts: Partial<SendView> = {}): SendView =>
  ({
    id,
    state: 'sent',
    kind: 'short post',
    post: `Post ${id}`,
    postId: id,
    pieceId: id,
    outlet: 'Towline',
    opening: '',
    dueLocal: '2026-12-01T12:30:00',
    sentAt: null,
    attempts: 1,
    error: '',
    url: null,
    nextAt: null,
    ...parts,
  }) as SendView;
let page: Shown<SendLogPage>;
const open = async (sends: SendView[], role: 'managing editor' | 'contributor' = 'managing editor') => {
  page = await show(SendLogPage, { role });
  await answer((r) => r.flush([{ id: 4, name: 'Towline', needsPerson: 0 }]), '/api/outlets');
  await answer((r) => r.flush({ stopped: false, by: null, at: null }), '/api/sending');
  await loaded(sends);
};
const loaded = async (sends: SendView[]) => {
  await answer((r) => r.flush(sends), '/api/sends');
  await page.fixture.whenStable();
};
const rows = () => [...page.page.querySelectorAll('tbody tr td:nth-child(2)')].map((td) => td.textContent!);

describe('the send log', () => {
  it('is sorted by the head that is pressed; what has no time stands last', async () => {
    await open([
      send(1, { dueLocal: null, attempts: 3 }),
      send(2, { dueLocal: '2026-12-03T09:00:00', attempts: 1 }),
      send(3, { dueLocal: '2026-12-02T09:00:00', attempts: 12 }),
    ]);
    const sort = await page.loader.getHarness(MatSortHarness);
    const press = async (label: string) => (await sort.getSortHeaders({ label }))[0]!.click();
    await press('Due');
    expect(rows().map((r) => /Post (\d)/.exec(r)![1])).toEqual(['3', '2', '1']);
    await press('Attempts');
    expect(rows().map((r) => /Post (\d)/.exec(r)![1])).toEqual(['2', '1', '3']);
  });

  it('is filtered by the address', async () => {
    await open([]);
    const gone: unknown[] = [];
    TestBed.inject(Router).navigate = (_, extras) => {
      gone.push(extras!.queryParams);
      return Promise.resolve(true);
    };
    await choose(page.loader, 'State', 'may have been sent');
    await choose(page.loader, 'Outlet', 'Towline');
    expect(gone).toEqual([{ state: 'unsure' }, { outlet: 4 }]);
  });

  it('asks a person about what may have been sent, and says when the answer is refused', async () => {
    await open([send(1, { state: 'unsure' })]);
    await press(page.loader, 'It is not: send it');
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toEqual({ there: false });
        refuse({ detail: 'Somebody has answered already.' })(r);
      },
      '/api/sends/1/answer',
      'POST',
    );
    await loaded([send(1)]);
    expect(page.page.querySelector('[role=alert]')!.textContent).toContain('answered already');
  });

  it('offers nothing to those who do not send', async () => {
    await open([send(1, { state: 'unsure' }), send(2, { state: 'failed' })], 'contributor');
    expect(page.page.textContent).not.toContain('It is there');
    expect(page.page.textContent).not.toContain('Try again');
  });
});
