import type { SerialView } from '@keyroster/contract';
import { answer, refuse, show, savedBody } from '../../testing/newsroom';
import { press, type } from '../../testing/hands';
import { MatInputHarness } from '@angular/material/input/testing';
import { SerialParts } from './serial-parts';

const part = (postId: number, days: number) => ({
  postId,
  title: `Part ${postId}`,
  stage: 'published' as const,
  delay: { days, hours: 0, minutes: 0 },
  have: 0,
  newest: 0,
});
const SERIAL: SerialView = {
  id: 4,
  version: 2,
  title: 'The hull',
  intro: '',
  parts: [part(1, 0), part(2, 3)],
  visits: 12,
  warnings: [],
};
const refusal = {
  type: 'about:blank',
  title: 'Readers would lose what they have',
  status: 409,
  code: 'takes-away',
  detail: '“Part 1” would be taken from 3 readers who have it already, until it is due for them again.',
};

describe('the parts of a serial', () => {
  it('are not saved over what somebody else made of it meanwhile', async () => {
    const page = await show(SerialParts, { inputs: { serial: SERIAL } });
    await type(page.loader, 'Introduction for readers', 'Mine.');
    page.fixture.componentRef.setInput('serial', { ...SERIAL, version: 3, intro: 'Theirs.' });
    await page.fixture.whenStable();
    expect(page.page.textContent).toContain('It is now “Theirs.”.');
    await press(page.loader, 'Keep mine');
    await press(page.loader, 'Save');
    await answer(
      (r) => {
        expect(savedBody(r)).toMatchObject({ version: 3, intro: 'Mine.' });
        refuse({ code: 'version-conflict', detail: 'Somebody else changed this serial meanwhile.' })(r);
      },
      '/api/serials/4',
      'PUT',
    );
    await page.fixture.whenStable();
    expect(page.page.textContent).toContain('Somebody else changed this serial meanwhile.');
  });

  it('are saved once what readers would lose was read', async () => {
    const page = await show(SerialParts, { inputs: { serial: SERIAL } });
    const kept: SerialView[] = [];
    page.component.kept.subscribe((s) => kept.push(s));
    const [days] = await page.loader.getAllHarnesses(MatInputHarness.with({ selector: '[type=number]' }));
    await days!.setValue('9');
    await (await days!.host()).dispatchEvent('change');
    await page.fixture.whenStable();
    expect(page.page.querySelector('.warn')?.textContent).toContain(
      '“Part 2” comes to readers before “Part 1”',
    );
    const bodies: { accepting: boolean; version: number; parts: unknown[] }[] = [];
    const saved = (how: 'refuse' | 'keep') =>
      answer(
        (r) => {
          bodies.push(savedBody(r) as (typeof bodies)[number]);
          if (how === 'refuse') r.flush(refusal, { status: 409, statusText: 'Conflict' });
          else r.flush({ ...SERIAL, version: 3 });
        },
        '/api/serials/4',
        'PUT',
      );
    await press(page.loader, 'Save');
    await saved('refuse');
    await page.fixture.whenStable();
    expect(document.querySelector('mat-dialog-container')?.textContent).toContain('taken from 3 readers');
    await press(page.loader, 'Save all the same');
    await saved('keep');
    expect(bodies.map((b) => [b.accepting, b.version])).toEqual([
      [false, 2],
      [true, 2],
    ]);
    expect(bodies[1]!.parts).toEqual([
      { postId: 1, delay: { days: 9, hours: 0, minutes: 0 } },
      { postId: 2, delay: { days: 3, hours: 0, minutes: 0 } },
    ]);
    expect(kept.map((s) => s.version)).toEqual([3]);
  });
});
