import { ChangeDetectionStrategy, Component, signal } from '@angular/core';
import type { FilterNames } from '@keyroster/core';
import { show, type Shown } from '../../testing/newsroom';
import { FilterLine } from './filter-line';

const NAMES = { byline: ['Imported account', 'Tobias Orme'], tag: ['winter', 'winterising'] } as FilterNames;

/** A page that takes the line up as the archive does, by its address. */
@Component({
  selector: 'kr-test-page',
  imports: [FilterLine],
  template: `<kr-filter-line
      [line]="line()"
      [names]="names()"
      today="2026-11-28"
      (changed)="line.set($event)"
    />
    <button type="button">Elsewhere</button>`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
class Page {
  readonly line = signal('');
  readonly names = signal<FilterNames>({});
}

let page: Shown<Page>;
const box = () => page.page.querySelector('input')!;
const chips = () =>
  [...page.page.querySelectorAll('mat-chip, mat-chip-row')].map((c) =>
    c.textContent!.replace(/\s+/g, ' ').trim(),
  );
const options = () => [...page.page.querySelectorAll('[role=option]')].map((o) => o.textContent!.trim());
const line = () => page.fixture.componentInstance.line();
/** As somebody who pauses after it. */
async function type(text: string): Promise<void> {
  box().focus();
  box().value = text;
  box().dispatchEvent(new Event('input'));
  await pause();
}
async function pause(): Promise<void> {
  await new Promise((done) => setTimeout(done, 400));
  await page.fixture.whenStable();
}

describe('the line that finds', () => {
  beforeEach(async () => {
    page = await show(Page, {});
  });

  it('leaves a token alone that is still being typed, and completes it once the names have come', async () => {
    await type('frost byline:imp');
    expect([box().value, chips(), line()]).toEqual(['frost byline:imp', [], 'frost']);
    page.fixture.componentInstance.names.set(NAMES);
    await pause();
    expect([box().value, chips()]).toEqual(['frost byline:imp', []]);
    expect(options().join()).toContain('Imported account');
    box().dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown' }));
    box().dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter' }));
    await pause();
    expect(line()).toBe('byline:"Imported account" frost');
    expect(chips()).toHaveLength(1);
    expect(box().value).toBe('frost');
  });

  it('finds by what is typed so far where that is there, and by more as more comes', async () => {
    page.fixture.componentInstance.names.set(NAMES);
    await type('tag:winter');
    expect([box().value, chips(), line()]).toEqual(['tag:winter', [], 'tag:winter']);
    await type('tag:winterising');
    expect([box().value, chips(), line()]).toEqual(['tag:winterising', [], 'tag:winterising']);
    await type('tag:winterising ');
    expect([box().value, chips().length, line()]).toEqual(['', 1, 'tag:winterising']);
  });

  it('takes what was typed as it is once one goes elsewhere, and says what is not there', async () => {
    page.fixture.componentInstance.names.set(NAMES);
    await type('tag:summer');
    expect(line()).toBe('');
    page.page.querySelector('button:last-of-type')!.dispatchEvent(new Event('focus'));
    (page.page.querySelector('button:last-of-type') as HTMLElement).focus();
    await pause();
    expect([box().value, chips().length, line()]).toEqual(['', 1, 'tag:summer']);
    expect(page.page.textContent).toContain('There is no tag “summer” on this blog.');
    // What somebody else puts there stands at once.
    page.fixture.componentInstance.line.set('tag:winter thaw');
    await pause();
    expect([box().value, chips().length]).toEqual(['thaw', 1]);
    // The way back leads to what was told before.
    page.fixture.componentInstance.line.set('tag:summer');
    await pause();
    expect([box().value, chips().join()]).toEqual(['', expect.stringContaining('summer')]);
  });
});
