import { TestBed } from '@angular/core/testing';
import { Messages } from './messages.service';

const undos = () => [...document.querySelectorAll('button')].filter((b) => b.textContent?.trim() === 'Undo');

describe('what was done, said with an undo', () => {
  it('is taken back by its own message, and not by one that is on its way out', async () => {
    const messages = TestBed.inject(Messages);
    const undone: string[] = [];
    messages.done('It is unscheduled.', () => void undone.push('unscheduled'));
    await new Promise((r) => setTimeout(r, 50));
    const [old] = undos();
    messages.done('Its date is taken away.', () => void undone.push('date'));
    old!.click();
    expect(undone).toEqual([]);
    await new Promise((r) => setTimeout(r, 500));
    expect(document.body.textContent).toContain('Its date is taken away.');
    undos()[0]!.click();
    expect(undone).toEqual(['date']);
  });

  it('is taken back by a key while it is said, once, and not when something else is said', async () => {
    const messages = TestBed.inject(Messages);
    const undone: string[] = [];
    expect(messages.undo()).toBe(false);
    messages.done('It is unscheduled.', () => void undone.push('unscheduled'));
    expect([messages.undo(), undone]).toEqual([true, ['unscheduled']]);
    await new Promise((r) => setTimeout(r, 500));
    expect(messages.undo()).toBe(false);
    messages.done('It is scheduled.', () => void undone.push('scheduled'));
    messages.done('Saved.');
    expect([messages.undo(), undone]).toEqual([false, ['unscheduled']]);
  });
});
