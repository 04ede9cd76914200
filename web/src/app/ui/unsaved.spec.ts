import { Component, inject, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { MatDialog, MatDialogRef } from '@angular/material/dialog';
import { provideRouter, Router } from '@angular/router';
import { firstValueFrom } from 'rxjs';
import { show } from '../../testing/newsroom';
import { Unsaved, leaveGuard, watchDialog, watchUnsaved } from './unsaved';

const dirty = signal(false);

@Component({ template: '<p>form</p>' })
class Form {
  constructor() {
    watchUnsaved(() => dirty());
  }
}
@Component({ template: '<p>elsewhere</p>' })
class Elsewhere {}
@Component({ template: '<input aria-label="Words" />' })
class Asking {
  constructor() {
    watchDialog(inject(MatDialogRef), () => dirty());
  }
}

beforeEach(() => dirty.set(false));

/** Presses a button of the question, once it is asked; a page that is being left is never at rest. */
async function say(text: string): Promise<void> {
  for (let i = 0; i < 100; i++) {
    const button = [...document.querySelectorAll('button')].find((b) => b.textContent?.trim() === text);
    if (button) return button.click();
    await new Promise((done) => setTimeout(done, 5));
  }
  throw new Error(`Nobody asked “${text}”.`);
}

describe('a page with unsaved input', () => {
  const open = async () => {
    const shown = await show(Form, {
      providers: [
        provideRouter([
          { path: 'form', component: Form, canDeactivate: [leaveGuard] },
          { path: 'elsewhere', component: Elsewhere },
        ]),
      ],
    });
    return { ...shown, router: TestBed.inject(Router) };
  };

  it('is left without a word when nothing is unsaved', async () => {
    const { router } = await open();
    await router.navigateByUrl('/form');
    expect(await router.navigateByUrl('/elsewhere')).toBe(true);
  });

  it.each([
    ['Cancel', '/form'],
    ['Leave', '/elsewhere'],
  ])('asks first: after “%s” one is at %s', async (answer, url) => {
    const { router } = await open();
    await router.navigateByUrl('/form');
    dirty.set(true);
    const going = router.navigateByUrl('/elsewhere');
    await say(answer);
    await going;
    expect(router.url).toBe(url);
  });

  it('has the browser ask before it is closed', async () => {
    await open();
    const closes = () => {
      const event = new Event('beforeunload', { cancelable: true });
      window.dispatchEvent(event);
      return event.defaultPrevented;
    };
    TestBed.inject(Unsaved);
    expect(closes()).toBe(false);
    dirty.set(true);
    expect(closes()).toBe(true);
  });

  it('is forgotten with its form', async () => {
    const { fixture } = await open();
    dirty.set(true);
    fixture.destroy();
    expect(TestBed.inject(Unsaved).any()).toBe(false);
  });
});

describe('a dialog with unsaved input', () => {
  const escape = () =>
    document
      .querySelector('.cdk-overlay-pane mat-dialog-container')!
      .dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', keyCode: 27, bubbles: true } as never));

  it('is closed by Escape only when nothing is lost, or the person says so', async () => {
    TestBed.configureTestingModule({});
    await show(Elsewhere);
    const dialogs = TestBed.runInInjectionContext(() => inject(MatDialog));
    const dialog = dialogs.open(Asking);
    dirty.set(true);
    escape();
    await say('Cancel');
    while (document.querySelectorAll('mat-dialog-container').length > 1)
      await new Promise((done) => setTimeout(done, 5));
    expect(dialogs.openDialogs).toEqual([dialog]);
    const closed = firstValueFrom(dialog.afterClosed());
    dirty.set(false);
    escape();
    await closed;
    expect(dialogs.openDialogs).toEqual([]);
  });
});
