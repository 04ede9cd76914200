import { answer, refuse, show, type Shown } from '../../testing/newsroom';
import { line, press, type } from '../../testing/hands';
import { CapturePage } from './capture.page';

let page: Shown<CapturePage>;
const open = async () => {
  page = await show(CapturePage, { role: 'contributor' });
};
const arrives = (stage = 'pitch') =>
  answer(
    (r) => {
      const { title } = JSON.parse(r.request.body as string) as { title: string };
      r.flush({ id: 4, title, stage });
    },
    '/api/captures',
    'POST',
  );
const said = () => page.page.querySelector('[role=status]')!.textContent;

describe('writing things down', () => {
  beforeEach(() => localStorage.clear());
  afterAll(() => localStorage.clear());

  it('needs a title; with a text it is a draft', async () => {
    await open();
    await press(page.loader, 'Put it in the tray');
    expect(page.page.querySelector('[role=alert]')!.textContent).toContain(
      'It needs a title, however rough.',
    );
    await type(page.loader, 'Title', ' A heron at the tail gate ');
    await type(page.loader, 'Text', 'It stood there.');
    await press(page.loader, 'Keep the draft');
    await arrives('drafting');
    await page.fixture.whenStable();
    expect(said()).toContain('arrived in the newsroom');
    expect(page.page.querySelector('[aria-label=Arrived]')!.textContent).toContain(
      'A heron at the tail gate',
    );
    expect(await (await line(page.loader, 'Title')).getValue()).toBe('');
  });

  it('is not lost when the page is closed, and is nobody else’s on the same device', async () => {
    localStorage.setItem('capture-draft-9', JSON.stringify({ title: 'Of somebody else', text: '' }));
    await open();
    expect(await (await line(page.loader, 'Title')).getValue()).toBe('');
    await type(page.loader, 'Title', 'Half a thought');
    page.fixture.destroy();
    expect(JSON.parse(localStorage.getItem('capture-draft-1')!)).toMatchObject({ title: 'Half a thought' });
  });

  it('is put right where it was refused, and says of the next that it arrived', async () => {
    await open();
    await type(page.loader, 'Title', 'First');
    await press(page.loader, 'Put it in the tray');
    await answer(refuse({ detail: 'That category is gone.' }), '/api/captures', 'POST');
    await page.fixture.whenStable();
    expect(said()).toContain('“First” is kept on this device.');
    await type(page.loader, 'Title', 'Second');
    await press(page.loader, 'Put it in the tray');
    await arrives();
    await page.fixture.whenStable();
    expect(said()).toContain('“Second” arrived in the newsroom.');
    await press(page.loader, 'Edit');
    expect(await (await line(page.loader, 'Title')).getValue()).toBe('First');
    expect(page.page.querySelector('[aria-label="On this device"]')).toBeNull();
  });
});
