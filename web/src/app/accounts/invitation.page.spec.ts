import { ActivatedRoute } from '@angular/router';
import { answer, refuse, show, type Shown } from '../../testing/newsroom';
import { line, press, type } from '../../testing/hands';
import { InvitationPage } from './invitation.page';

const SECRET = 'abcdefghijklmnopqrstuvwxyz012345';
const open = (fragment: string): Promise<Shown<InvitationPage>> =>
  show(InvitationPage, { providers: [{ provide: ActivatedRoute, useValue: { snapshot: { fragment } } }] });
const seen = {
  blog: 'Halfway Lock',
  name: 'Odette Wren',
  email: 'odette@example.com',
  role: 'contributor',
  by: 'Mara Winslow',
  expiresAt: '2026-12-03T09:00:00Z',
  hasAccount: false,
};

describe('an invitation', () => {
  it('asks for a name and a password, and nothing less', async () => {
    const page = await open(SECRET);
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toEqual({ secret: SECRET });
        r.flush(seen);
      },
      '/api/invites/see',
      'POST',
    );
    await page.fixture.whenStable();
    expect(page.page.textContent).toContain('Welcome to Halfway Lock');
    expect(await (await line(page.loader, 'Your name')).getValue()).toBe('Odette Wren');
    await type(page.loader, 'A password', 'short');
    await press(page.loader, 'Accept invitation');
    expect(page.page.querySelector('mat-error')!.textContent).toContain('At least 10 characters.');
    await type(page.loader, 'A password', 'a lock and a half');
    await press(page.loader, 'Accept invitation');
    await answer(
      refuse({ detail: 'This invitation was used already. Sign in with your password.' }),
      '/api/invites/accept',
      'POST',
    );
    await page.fixture.whenStable();
    expect(page.page.querySelector('[role=alert]')!.textContent).toContain('was used already');
  });

  it('to an account that exists asks for its password alone', async () => {
    const page = await open(SECRET);
    await answer((r) => r.flush({ ...seen, hasAccount: true }), '/api/invites/see', 'POST');
    await page.fixture.whenStable();
    expect(page.page.textContent).not.toContain('Your name');
    expect(page.page.querySelector('input')!.getAttribute('autocomplete')).toBe('current-password');
    await type(page.loader, 'Your password', 'a lock and a half');
    await press(page.loader, 'Accept invitation');
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toMatchObject({ password: 'a lock and a half' });
        refuse({ detail: 'That is not the password.' })(r);
      },
      '/api/invites/accept',
      'POST',
    );
  });

  it('that is not whole, or not known, says so', async () => {
    const page = await open('half');
    expect(page.page.textContent).toContain('The address is not complete.');
  });
});
