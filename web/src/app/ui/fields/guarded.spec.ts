import { Component, signal } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { TextField } from './text-field';

@Component({
  imports: [TextField],
  template: `<kr-text guarded label="Excerpt" [value]="kept()" (changed)="saved.push($event)" />`,
})
class Kept {
  readonly kept = signal('As it was');
  readonly saved: string[] = [];
}

describe('a text that others may change while it is typed', () => {
  let fixture: ComponentFixture<Kept>;
  beforeEach(async () => {
    fixture = TestBed.createComponent(Kept);
    await fixture.whenStable();
  });
  const box = () => fixture.nativeElement.querySelector('input') as HTMLInputElement;
  const type = async (text: string) => {
    box().value = text;
    box().dispatchEvent(new Event('input'));
    await fixture.whenStable();
  };
  const leave = async () => {
    box().dispatchEvent(new Event('change'));
    box().dispatchEvent(new Event('blur'));
    await fixture.whenStable();
  };
  const comes = async (text: string) => {
    fixture.componentInstance.kept.set(text);
    await fixture.whenStable();
  };
  const press = async (name: string) => {
    [...(fixture.nativeElement as HTMLElement).querySelectorAll('button')]
      .find((b) => b.textContent!.trim() === name)!
      .click();
    await fixture.whenStable();
  };
  const said = () => (fixture.nativeElement as HTMLElement).querySelector('.meanwhile')?.textContent ?? '';

  it('keeps what is typed, shows the other beside it, and saves neither until one is chosen', async () => {
    await type('Mine, half');
    await comes('Theirs');
    expect(box().value).toBe('Mine, half');
    expect(said()).toContain('“Theirs”');
    await type('Mine, half done');
    await leave();
    expect(box().value).toBe('Mine, half done');
    expect(fixture.componentInstance.saved).toEqual([]);
    await press('Save mine');
    expect(fixture.componentInstance.saved).toEqual(['Mine, half done']);
    expect(said()).toBe('');
  });

  it('takes the other one when that is chosen', async () => {
    await type('Mine');
    await comes('');
    expect(said()).toContain('it is empty now');
    await press('Use theirs');
    expect([box().value, fixture.componentInstance.saved]).toEqual(['', []]);
    await comes('Later');
    expect(box().value).toBe('Later');
  });

  it('keeps the words of a save that is refused, and offers them again', async () => {
    await type('Mine');
    await leave();
    expect(fixture.componentInstance.saved).toEqual(['Mine']);
    // Somebody was first: the save is refused, and the page shows theirs.
    await comes('Theirs');
    expect(box().value).toBe('Mine');
    await press('Save mine');
    expect(fixture.componentInstance.saved).toEqual(['Mine', 'Mine']);
    // Saved, it is what comes back.
    await comes('Mine');
    expect([box().value, said()]).toEqual(['Mine', '']);
  });

  it('follows what others save while nothing is typed', async () => {
    await comes('Theirs');
    expect([box().value, said()]).toEqual(['Theirs', '']);
  });
});
