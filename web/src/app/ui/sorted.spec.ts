import { signal } from '@angular/core';
import { Sorted } from './sorted';

const boats = signal([
  { name: 'Winifred', berth: 10, from: null },
  { name: 'älter', berth: 9, from: '2026-04-01' },
  { name: 'Berth 10', berth: 2, from: '2026-03-01' },
  { name: 'berth 9', berth: 9, from: null },
]);
const sorted = () => new Sorted(boats, { name: (b) => b.name, berth: (b) => b.berth, from: (b) => b.from });
const names = (s: ReturnType<typeof sorted>) => s.rows().map((b) => b.name);

describe('rows by the heads of their table', () => {
  it('stand as they came until a head is pressed, and again when it is let go', () => {
    const rows = sorted();
    expect(rows.rows()).toBe(boats());
    rows.by({ active: 'name', direction: 'asc' });
    rows.by({ active: 'name', direction: '' });
    expect(rows.rows()).toBe(boats());
  });

  it('go by the alphabet and by the numbers within words, whatever the letters’ case', () => {
    const rows = sorted();
    rows.by({ active: 'name', direction: 'asc' });
    expect(names(rows)).toEqual(['älter', 'berth 9', 'Berth 10', 'Winifred']);
    rows.by({ active: 'name', direction: 'desc' });
    expect(names(rows)).toEqual(['Winifred', 'Berth 10', 'berth 9', 'älter']);
  });

  it('leave what is alike as it came', () => {
    const rows = sorted();
    rows.by({ active: 'berth', direction: 'desc' });
    expect(names(rows)).toEqual(['Winifred', 'älter', 'berth 9', 'Berth 10']);
  });

  it('have what is empty last, downwards too', () => {
    const rows = sorted();
    rows.by({ active: 'from', direction: 'asc' });
    expect(names(rows)).toEqual(['Berth 10', 'älter', 'Winifred', 'berth 9']);
    rows.by({ active: 'from', direction: 'desc' });
    expect(names(rows)).toEqual(['älter', 'Berth 10', 'Winifred', 'berth 9']);
  });

  it('follow what is in the list, and ignore a head that it does not know', () => {
    const rows = sorted();
    rows.by({ active: 'nothing', direction: 'asc' });
    expect(rows.rows()).toBe(boats());
    rows.by({ active: 'name', direction: 'asc' });
    boats.update((all) => [...all, { name: 'Aegir', berth: 1, from: null }]);
    expect(names(rows)[0]).toBe('Aegir');
  });
});
