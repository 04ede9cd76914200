import { MATERIAL_ANIMATIONS } from '@angular/material/core';
import { BreakpointObserver } from '@angular/cdk/layout';
import { Component, inject } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { NEVER } from 'rxjs';
import { work } from '../../testing/newsroom';
import { LowSheet } from './low-sheet';

@Component({
  imports: [MatDialogModule],
  template: `<button class="take" (click)="ref.close(data + 1)">{{ data }}</button
    ><button class="leave" mat-dialog-close>Cancel</button>`,
})
class Ask {
  readonly data = inject<number>(MAT_DIALOG_DATA);
  readonly ref = inject<MatDialogRef<Ask, number>>(MatDialogRef);
}
const open = async (phone: boolean) => {
  const sheet = await work(LowSheet, {
    providers: [
      { provide: MATERIAL_ANIMATIONS, useValue: { animationsDisabled: true } },
      { provide: BreakpointObserver, useValue: { isMatched: () => phone, observe: () => NEVER } },
    ],
  });
  const answer = sheet.open<number, number>(Ask, 4, 'How many');
  await new Promise((go) => setTimeout(go));
  return answer;
};
const press = (what: string) => document.querySelector<HTMLButtonElement>(what)!.click();
const at = (selector: string) => document.querySelector(selector);

const until = async (holds: () => unknown) => {
  for (let i = 0; i < 400 && !holds(); i++) await new Promise((go) => setTimeout(go, 5));
};

describe('a choice', () => {
  it.each([
    [true, 'mat-bottom-sheet-container'],
    [false, 'mat-dialog-container'],
  ])('on a phone %s stands in %s and answers the same', async (phone, container) => {
    const asked = open(phone);
    await until(() => at(container)?.getAttribute('aria-label'));
    expect(at(container)?.getAttribute('aria-label')).toBe('How many');
    expect(at('.take')?.textContent).toBe('4');
    press('.take');
    expect(await asked).toBe(5);
  });

  it.each([true, false])('on a phone %s can be left', async (phone) => {
    const asked = open(phone);
    await until(() => at('.leave'));
    press('.leave');
    expect((await asked) || undefined).toBeUndefined();
  });
});
