import type { Shown } from '../../testing/newsroom';
import { show } from '../../testing/newsroom';
import { press, type } from '../../testing/hands';
import { ScheduleForm } from './schedule-form';

let form: Shown<ScheduleForm>;
let chosen: { local: string; label: string }[];
async function open(inputs: Record<string, unknown> = {}): Promise<void> {
  form = await show(ScheduleForm, { inputs: { stage: 'cleared', ...inputs } });
  chosen = [];
  form.component.chosen.subscribe((c) => chosen.push(c));
}
const says = () => form.page.querySelector('[role=status]')!.textContent!.trim();
const button = () => form.page.querySelector<HTMLButtonElement>('button[type=submit]')!;
const at = async (date: string, time: string) => {
  await type(form.loader, 'Date', date);
  await type(form.loader, 'Time, Europe/London', time);
};

describe('the form that schedules a post', () => {
  it('says when it goes out, and does what its button says', async () => {
    await open();
    await at('4 March 2031', '7.45');
    expect(says()).toBe('It goes out Tuesday 4 March 2031 at 07:45.');
    expect(button().textContent!.trim()).toBe('Schedule for Tue 4 Mar 2031, 07:45');
    await press(form.loader, /^Schedule for/);
    expect(chosen).toEqual([{ local: '2031-03-04T07:45:00', label: 'Schedule for Tue 4 Mar 2031, 07:45' }]);
  });

  it.each([
    ['scheduled', 'Move to Tue 4 Mar 2031, 08:00'],
    ['in review', 'Clear and schedule for Tue 4 Mar 2031, 08:00'],
  ])('calls it by what it is for a post that is %s', async (stage, label) => {
    await open({ stage, planned: '2031-03-04T08:00:00' });
    expect(button().textContent!.trim()).toBe(label);
  });

  it.each([
    // The Summer Time Order 2002: clocks go forward at 01:00 on the last Sunday of March, back in October.
    ['30 March 2031', '01:30', 'The clocks go forward: 01:30 does not exist on this day.'],
    [
      '26 October 2031',
      '01:30',
      'The clocks go back: 01:30 happens twice on this day. You will be asked which one.',
    ],
  ])('on %s says what the clocks do', async (date, time, sentence) => {
    await open();
    await at(date, time);
    expect(says()).toBe(sentence);
  });

  it('says that a time that has passed goes out at once', async () => {
    await open();
    await at('1 June 2020', '08:00');
    expect(says()).toMatch(/^That is in the past: it goes out at once/);
    expect(button().textContent!.trim()).toBe('Release now, dated Mon 1 Jun 2020');
  });

  it.each([
    ['31 November', '08:00', 'Type a day, like 1 Dec 2026.'],
    ['1 Dec 2031', '25:00', 'Type a time, like 08:00.'],
    ['', '08:00', 'Choose a date.'],
    ['1 Dec 2031', '', 'Type a time, like 08:00.'],
  ])('does nothing with “%s”, “%s”, and says so at the field', async (date, time, error) => {
    await open();
    await at(date, time);
    expect(says()).toBe('Choose a date and type a time, like 08:00.');
    await press(form.loader, 'Schedule');
    expect(form.page.querySelector('mat-error')!.textContent!.trim()).toBe(error);
    expect(chosen).toEqual([]);
  });

  it('takes Enter right after the last digit, before the screen was drawn', async () => {
    await open();
    await at('4 March 2031', '');
    const time = form.page.querySelector<HTMLInputElement>('kr-clock input')!;
    time.value = '07:45';
    time.dispatchEvent(new Event('input', { bubbles: true }));
    // What Enter does in a browser: it presses the form's button, unless that is disabled.
    button().click();
    expect(chosen.map((c) => c.local)).toEqual(['2031-03-04T07:45:00']);
  });

  it('keeps the seconds that a run time has', async () => {
    await open({ planned: '2031-03-04T08:00:30' });
    await press(form.loader, /^Schedule for/);
    expect(chosen[0]!.local).toBe('2031-03-04T08:00:30');
  });
});
