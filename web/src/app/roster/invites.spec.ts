import { answer, refuse, show, type Shown } from '../../testing/newsroom';
import { press, type } from '../../testing/hands';
import { Invites } from './invites';

const invite = (parts: object = {}) => ({
  id: 3,
  name: 'Odette Wren',
  email: 'odette@example.com',
  role: 'contributor',
  madeBy: { id: 1, name: 'Mara Winslow', initials: 'MW' },
  madeAt: '2026-11-26T09:00:00Z',
  expiresAt: '2026-12-03T09:00:00Z',
  state: 'open',
  ...parts,
});
let page: Shown<Invites>;
async function open(invites: object[] = []): Promise<void> {
  page = await show(Invites);
  await listed(invites);
}
async function listed(invites: object[]): Promise<void> {
  await answer((r) => r.flush(invites), '/api/invites');
  await page.fixture.whenStable();
}

describe('invitations', () => {
  it('are made, and their address is shown once', async () => {
    await open();
    await type(page.loader, 'Name of whom you invite', 'Odette Wren');
    await type(page.loader, 'Their e-mail', 'odette@example.com');
    await press(page.loader, 'Invite');
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toEqual({
          name: 'Odette Wren',
          email: 'odette@example.com',
          role: 'contributor',
          categories: [],
        });
        r.flush(invite({ address: 'http://127.0.0.1/desk/invitation#secret', mailed: true }));
      },
      '/api/invites',
      'POST',
    );
    await listed([invite()]);
    expect(page.page.textContent).toContain('The invitation is on its way by mail.');
    expect(page.page.querySelector('input[readonly]')).toHaveProperty(
      'value',
      'http://127.0.0.1/desk/invitation#secret',
    );
    expect(page.page.querySelector('ul')!.textContent).toContain('open until Thu 3 Dec');
  });

  it('that are refused say so at the field', async () => {
    await open();
    await type(page.loader, 'Their e-mail', 'mara@example.com');
    await press(page.loader, 'Invite');
    await answer(
      refuse({
        detail: 'Somebody signs in as mara@example.com already.',
        fields: [{ field: 'email', sentence: 'Somebody signs in with this address already.' }],
      }),
      '/api/invites',
      'POST',
    );
    await listed([]);
    expect(page.page.querySelector('mat-error')!.textContent).toContain(
      'Somebody signs in with this address already.',
    );
  });

  it('are taken back until they are used', async () => {
    await open([invite(), invite({ id: 4, state: 'used' }), invite({ id: 5, state: 'expired' })]);
    expect(page.page.querySelectorAll('li button')).toHaveLength(2);
    await press(page.loader, 'Revoke');
    await answer((r) => r.flush(null), '/api/invites/3', 'DELETE');
    await listed([]);
  });
});
