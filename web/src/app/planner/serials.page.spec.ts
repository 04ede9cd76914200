import { MatButtonHarness } from '@angular/material/button/testing';
import { MatDialogHarness } from '@angular/material/dialog/testing';
import { answer, refuse, show, type Shown } from '../../testing/newsroom';
import { dialogGone, line, press, type } from '../../testing/hands';
import { SerialsPage } from './serials.page';

const serial = (id: number, title: string, parts: object[] = []) => ({
  id,
  title,
  intro: '',
  visits: 3,
  version: 1,
  warnings: [],
  parts,
});
const part = (postId: number, parts: object = {}) => ({
  postId,
  title: `Part ${postId}`,
  stage: 'published',
  delay: { days: 0, hours: 0, minutes: 0 },
  have: 3,
  newest: 2,
  ...parts,
});
let page: Shown<SerialsPage>;
const listed = async (serials: object[]) => {
  await answer((r) => r.flush(serials), '/api/serials');
  await page.fixture.whenStable();
};
const open = async (serials: object[]) => {
  page = await show(SerialsPage);
  await listed(serials);
};
const names = () => [...page.page.querySelectorAll('[aria-label=Serials] b')].map((b) => b.textContent);

describe('serials', () => {
  it('are begun with a title, and not without one', async () => {
    await open([]);
    expect(page.page.textContent).toContain('There is no serial yet.');
    await press(page.loader, 'Begin a serial');
    expect(page.page.textContent).toContain('Give it a title.');
    await type(page.loader, 'Title of a new serial', '  A winter afloat ');
    await press(page.loader, 'Begin a serial');
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toEqual({ title: 'A winter afloat', intro: '' });
        r.flush(serial(4, 'A winter afloat'));
      },
      '/api/serials',
      'POST',
    );
    await listed([serial(1, 'Another'), serial(4, 'A winter afloat')]);
    expect(page.page.querySelector('[aria-current]')!.textContent).toContain('A winter afloat');
    expect(await (await line(page.loader, 'Title of a new serial')).getValue()).toBe('');
  });

  it('tell of readers only where a part is out', async () => {
    await open([serial(1, 'Out', [part(5)]), serial(2, 'Not yet', [part(6, { stage: 'drafting' })])]);
    expect(page.page.querySelector('caption')!.textContent).toMatch(
      /3 readers\s+counted by their first visits/,
    );
    page.page.querySelectorAll<HTMLButtonElement>('[aria-label=Serials] button')[1]!.click();
    await page.fixture.whenStable();
    expect(page.page.textContent).toContain('None of its parts is published yet.');
  });

  it('are deleted once that is meant, and stay with a sentence where it is refused', async () => {
    await open([serial(1, 'A winter afloat')]);
    const ask = async () => {
      await press(page.loader, /^Delete/);
      return page.loader.getHarness(MatDialogHarness);
    };
    expect(await (await ask()).getText()).toContain('without a delay');
    await press(page.loader, 'Cancel');
    await dialogGone();
    await ask();
    const sure = MatButtonHarness.with({ ancestor: 'mat-dialog-container', text: 'Delete the serial' });
    await (await page.loader.getHarness(sure)).click();
    await answer(refuse({ detail: 'The newsroom is busy.' }), '/api/serials/1', 'DELETE');
    await page.fixture.whenStable();
    expect(page.page.textContent).toContain('The newsroom is busy.');
    expect(names()).toEqual(['A winter afloat']);
  });
});
