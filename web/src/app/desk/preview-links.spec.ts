import { answer, refuse, show, type Shown } from '../../testing/newsroom';
import { line, press, type } from '../../testing/hands';
import { PreviewLinks } from './preview-links';

const LINKS = '/api/posts/7/preview-links';
const link = (id: number, parts: object = {}) => ({
  id,
  label: 'Lock keepers',
  expiresAt: '2026-12-01T09:00:00.000Z',
  opened: 0,
  ...parts,
});
let panel: Shown<PreviewLinks>;
const open = async (links: object[] = []) => {
  panel = await show(PreviewLinks, { inputs: { postId: 7 } });
  await answer((r) => r.flush(links), LINKS);
  await panel.fixture.whenStable();
};
const lines = () =>
  [...panel.page.querySelectorAll('li > span')].map((li) => li.textContent!.replace(/\s+/g, ' ').trim());

describe('links for people outside', () => {
  // In another year than that of a day, its year is said as well.
  it('say until when they hold, by the clocks of the blog, and how often they were opened', async () => {
    // In summer the day of London begins an hour before that of universal time ends.
    await open([link(1), link(2, { label: '', expiresAt: '2026-06-30T23:30:00.000Z', opened: 2 })]);
    expect(lines()).toEqual([
      expect.stringMatching(/^Lock keepers until Tue 1 Dec( 2026)?, opened not yet$/),
      expect.stringMatching(/^Somebody until Wed 1 Jul.*, opened 2 times$/),
    ]);
  });

  it('are made for so many days, and shown this once', async () => {
    await open();
    await type(panel.loader, 'For whom', ' The printer ');
    await type(panel.loader, 'Days', '3');
    await press(panel.loader, 'Make a link');
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toEqual({ label: 'The printer', days: 3 });
        r.flush({ link: link(3, { label: 'The printer' }), address: 'https://halfway.example/look/abc' });
      },
      LINKS,
      'POST',
    );
    await panel.fixture.whenStable();
    expect(lines()).toEqual([expect.stringMatching(/^The printer until Tue 1 Dec( 2026)?, opened not yet$/)]);
    expect(await (await line(panel.loader, 'The link, shown this once')).getValue()).toBe(
      'https://halfway.example/look/abc',
    );
    expect(await (await line(panel.loader, 'For whom')).getValue()).toBe('');
  });

  it('are taken back at once, and stay with a sentence where that is refused', async () => {
    await open([link(1)]);
    await press(panel.loader, 'Revoke');
    await answer(refuse({ detail: 'The newsroom is busy.' }), '/api/preview-links/1', 'DELETE');
    await panel.fixture.whenStable();
    expect(panel.page.querySelector('[role=alert]')!.textContent).toContain('The newsroom is busy.');
    expect(lines()).toHaveLength(1);
    await press(panel.loader, 'Revoke');
    await answer((r) => r.flush(null), '/api/preview-links/1', 'DELETE');
    await panel.fixture.whenStable();
    expect(lines()).toEqual([]);
  });
});
