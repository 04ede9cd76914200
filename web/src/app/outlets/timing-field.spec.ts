import type { Timing } from '@keyroster/core';
import { show, type Shown } from '../../testing/newsroom';
import { choose, line, type } from '../../testing/hands';
import { TimingField } from './timing-field';

let field: Shown<TimingField>;
let told: Timing[];
const open = async (timing: Timing, more: object = {}) => {
  told = [];
  field = await show(TimingField, { inputs: { timing, ...more } });
  field.component.changed.subscribe((t) => told.push(t));
};

describe('when a piece goes out', () => {
  it.each<[string, Timing]>([
    ['With the release, or minutes after', { kind: 'same hour', minutes: 0 }],
    ['That weekday at', { kind: 'weekday', weekday: 5, time: '09:15' }],
    ['Next week at', { kind: 'next week', time: '09:15' }],
    ['Next month at', { kind: 'next month', time: '09:15' }],
  ])('%s', async (label, timing) => {
    await open({ kind: 'same day', time: '09:15' });
    await choose(field.loader, 'When', label);
    expect(told).toEqual([timing]);
  });

  it('a date of its own begins where it is due', async () => {
    await open({ kind: 'same day', time: '09:15' }, { due: '2026-12-03T09:15:00' });
    await choose(field.loader, 'When', 'A date of its own');
    expect(told).toEqual([{ kind: 'date', local: '2026-12-03T09:15:00' }]);
  });

  it('takes a time as people type it, and nothing that is none', async () => {
    await open({ kind: 'weekday', weekday: 2, time: '09:15' });
    await type(field.loader, 'Time of day', '7 pm');
    expect(told.at(-1)).toEqual({ kind: 'weekday', weekday: 2, time: '19:00' });
    const before = told.length;
    await type(field.loader, 'Time of day', 'noonish');
    expect(told.length).toBe(before);
    await choose(field.loader, 'Weekday', 'Sunday');
    expect(told.at(-1)).toMatchObject({ kind: 'weekday', weekday: 7 });
  });

  it('can be switched off', async () => {
    await open({ kind: 'same hour', minutes: 5 }, { disabled: true });
    expect(await (await line(field.loader, 'Minutes after the release')).isDisabled()).toBe(true);
  });
});
