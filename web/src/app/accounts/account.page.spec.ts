import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import type { TokenView } from '@keyroster/contract';
import { answer, refuse, show, type Shown } from '../../testing/newsroom';
import { press, type } from '../../testing/hands';
import { AccountPage } from './account.page';

const token: TokenView = {
  id: 4,
  name: 'Phone',
  person: { id: 1, name: 'Mara Winslow', initials: 'MW' },
  mine: true,
  scopes: ['create'],
  madeAt: '2026-11-20T08:00:00Z',
  lastUsedAt: null,
};
const list = (tokens: TokenView[]) =>
  answer((r) => r.flush({ endpoint: 'https://blog.example/micropub', tokens }), '/api/tokens');

let page: Shown<AccountPage>;
const open = async (tokens: TokenView[] = []) => {
  page = await show(AccountPage);
  await list(tokens);
  await page.fixture.whenStable();
};
const box = (label: string) => page.loader.getHarness(MatCheckboxHarness.with({ label }));

describe('one’s password', () => {
  it('is changed, or said to be another at its field', async () => {
    await open();
    await press(page.loader, 'Change the password');
    expect(page.page.textContent).toContain('Say which password you have now.');
    await type(page.loader, 'Your password now', 'the old one');
    await type(page.loader, 'The new one', 'a longer new one');
    await press(page.loader, 'Change the password');
    const sentence = 'That is not your password.';
    const problem = { detail: sentence, fields: [{ field: 'current', sentence }] };
    await answer(refuse(problem), '/api/me/password', 'PUT');
    await page.fixture.whenStable();
    expect(page.page.querySelector('kr-password mat-error')?.textContent).toContain(sentence);
    await type(page.loader, 'Your password now', 'the right one');
    await press(page.loader, 'Change the password');
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toEqual({
          current: 'the right one',
          password: 'a longer new one',
        });
        r.flush(null);
      },
      '/api/me/password',
      'PUT',
    );
  });
});

describe('one’s account', () => {
  it('says what is missing before it asks for a key', async () => {
    await open();
    await (await box('Bring new drafts')).uncheck();
    await (await box('Add pictures')).uncheck();
    await press(page.loader, 'Make a key');
    expect(page.page.textContent).toContain('Say what the key is for.');
    expect(page.page.textContent).toContain('Tick at least one thing that the key may do.');
  });

  it('shows a key once, and asks for no more than was ticked', async () => {
    await open();
    await type(page.loader, 'What the key is for', ' Phone ');
    await (await box('Change posts')).check();
    await press(page.loader, 'Make a key');
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toEqual({
          name: 'Phone',
          scopes: ['create', 'update', 'media'],
        });
        r.flush({ ...token, secret: 'krt_secret' });
      },
      '/api/tokens',
      'POST',
    );
    await list([token]);
    await page.fixture.whenStable();
    expect([...page.page.querySelectorAll('input')].map((i) => i.value)).toContain('krt_secret');
    expect(page.page.querySelector('table')?.textContent).toContain('never');
  });

  it('stores the wish for mail', async () => {
    await open();
    await (
      await page.loader.getHarness(MatCheckboxHarness.with({ label: /when a note mentions me/ }))
    ).check();
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toEqual({ mailMentions: true });
        r.flush({});
      },
      '/api/me',
      'PATCH',
    );
  });
});
