import { provideRouter, Router } from '@angular/router';
import { Component } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { answer, refuse, show } from '../../testing/newsroom';
import { line, press, type } from '../../testing/hands';
import { SetUpPage } from './set-up.page';
import { SignInPage } from './sign-in.page';

@Component({ template: '' })
class Somewhere {}
const routes = provideRouter([{ path: '**', component: Somewhere }]);
const nobody = { me: null, blog: null, needsSetup: false, blogs: [], demo: false };

/** Shown to nobody: `show` signs somebody in, who leaves again. */
async function signIn(to?: string) {
  const shown = await show(SignInPage, { role: 'reader', inputs: { to }, providers: [routes] });
  await press(shown.loader, 'Sign out');
  await answer((r) => r.flush(null), '/api/session', 'DELETE');
  await shown.fixture.whenStable();
  return { ...shown, router: TestBed.inject(Router) };
}
const enter = async ({ loader }: Awaited<ReturnType<typeof signIn>>) => {
  await type(loader, 'E-mail', 'mara@example.com');
  await type(loader, 'Password', 'thirteen locks');
  await press(loader, 'Sign in');
};
const me = {
  id: 1,
  name: 'Mara',
  initials: 'M',
  role: 'managing editor',
  email: 'm@example.com',
  categories: [],
};

describe('signing in', () => {
  it('asks for both before it asks the server', async () => {
    const page = await signIn();
    await press(page.loader, 'Sign in');
    expect(page.page.querySelector('[role=alert]')!.textContent).toBe(
      'Type your e-mail address and your password.',
    );
  });

  it.each([
    [undefined, '/today'],
    ['/posts/7', '/posts/7'],
    ['//evil.example', '/today'],
    ['https://evil.example', '/today'],
  ])('that was on the way to %s ends at %s', async (to, url) => {
    const page = await signIn(to);
    await enter(page);
    await answer((r) => r.flush({ ...nobody, me }), '/api/session', 'POST');
    await page.fixture.whenStable();
    expect(page.router.url).toBe(url);
  });

  it('that fails says so and keeps what was typed', async () => {
    const page = await signIn();
    await enter(page);
    await answer(
      refuse({ detail: 'That address and password do not belong together.' }),
      '/api/session',
      'POST',
    );
    await page.fixture.whenStable();
    expect(page.page.querySelector('[role=alert]')!.textContent).toBe(
      'That address and password do not belong together.',
    );
    expect(await (await line(page.loader, 'E-mail')).getValue()).toBe('mara@example.com');
  });
});

describe('setting up', () => {
  it('says at each field what the server refuses', async () => {
    const { loader, page, fixture } = await show(SetUpPage, { providers: [routes] });
    await type(loader, 'Name of the blog', 'Locks');
    await type(loader, 'Password', 'short');
    await press(loader, 'Make the blog and sign in');
    await answer(
      refuse({
        detail: 'Look again.',
        fields: [
          { field: 'password', sentence: 'A password has at least 10 characters.' },
          { field: 'email', sentence: 'An e-mail address is needed.' },
        ],
      }),
      '/api/setup',
      'POST',
    );
    await fixture.whenStable();
    expect([...page.querySelectorAll('mat-error')].map((e) => e.textContent)).toEqual([
      'An e-mail address is needed.',
      'A password has at least 10 characters.',
    ]);
    expect(page.querySelector('[role=alert]')).toBeNull();
  });
});
