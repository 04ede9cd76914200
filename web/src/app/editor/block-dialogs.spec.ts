import { show, type Shown } from '../../testing/newsroom';
import { press, type } from '../../testing/hands';
import { ButtonDialog, SignUpDialog } from './block-dialogs';
import { VideoDialog } from './video-dialog';
import { PictureDialog } from './picture-dialog';

const errors = ({ page }: Shown<unknown>) =>
  [...page.querySelectorAll('mat-error, [role=alert]')].map((e) => e.textContent!.trim());

describe('a button in a text', () => {
  it('needs words and an address that leads somewhere, and says so at the fields', async () => {
    const dialog = await show(ButtonDialog, { data: null });
    await press(dialog.loader, 'Insert');
    expect(errors(dialog)).toEqual([
      'A button needs words that say where it leads.',
      expect.stringMatching(/^A button leads to a web address/),
    ]);
    await type(dialog.loader, 'Words on it', ' Book a berth ');
    await type(dialog.loader, 'Leads to', 'javascript:alert(1)');
    await press(dialog.loader, 'Insert');
    expect(dialog.closed).toEqual([]);
    await type(dialog.loader, 'Leads to', '/berths');
    await press(dialog.loader, 'Insert');
    expect(dialog.closed).toEqual([{ label: 'Book a berth', href: '/berths' }]);
  });

  it('is changed from what it was', async () => {
    const dialog = await show(ButtonDialog, { data: { label: 'Book', href: 'https://berths.example/' } });
    await type(dialog.loader, 'Words on it', 'Book now');
    await press(dialog.loader, 'Change it');
    expect(dialog.closed).toEqual([{ label: 'Book now', href: 'https://berths.example/' }]);
  });
});

describe('a sign-up in a text', () => {
  it('takes an invitation, or none', async () => {
    const dialog = await show(SignUpDialog, { data: null });
    await press(dialog.loader, 'Insert');
    await type(dialog.loader, 'Invitation', ' The letter, on Fridays. ');
    await press(dialog.loader, 'Insert');
    expect(dialog.closed).toEqual([{ invitation: '' }, { invitation: 'The letter, on Fridays.' }]);
  });
});

describe('a film in a text', () => {
  const none = { file: 0, poster: 0, captions: 0, href: '', title: '', description: '' };

  it('needs a file or an address, and only one of the web', async () => {
    const dialog = await show(VideoDialog, { data: null });
    await press(dialog.loader, 'Insert');
    expect(errors(dialog)).toEqual(['Choose a file, or give an address.']);
    await type(dialog.loader, 'Or an address elsewhere', 'mailto:film@example.com');
    await press(dialog.loader, 'Insert');
    expect(errors(dialog)).toContain('The address of a video begins with https://.');
    await type(dialog.loader, 'Or an address elsewhere', 'https://films.example/lock');
    await type(dialog.loader, 'Title', ' Through the lock ');
    await press(dialog.loader, 'Insert');
    expect(dialog.closed).toEqual([
      { ...none, href: 'https://films.example/lock', title: 'Through the lock' },
    ]);
  });

  it('with a file needs no address', async () => {
    const dialog = await show(VideoDialog, { data: { ...none, file: 4 } });
    await press(dialog.loader, 'Change it');
    expect(dialog.closed).toEqual([{ ...none, file: 4 }]);
  });
});

describe('a picture in a text', () => {
  it('keeps its words without the spaces around them', async () => {
    const dialog = await show(PictureDialog, {
      data: { media: 4, alt: 'A lock', caption: '', credit: '', size: 'wide', side: 'none' },
    });
    await type(dialog.loader, 'Caption', ' At dusk ');
    await press(dialog.loader, 'Change it');
    expect(dialog.closed).toEqual([
      { media: 4, alt: 'A lock', caption: 'At dusk', credit: '', size: 'wide', side: 'none' },
    ]);
  });

  it('cannot be put in before one is chosen', async () => {
    const dialog = await show(PictureDialog, { data: null });
    expect(dialog.page.querySelector<HTMLButtonElement>('[type=submit]')!.disabled).toBe(true);
  });
});
