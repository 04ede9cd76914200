import { fc } from '../testing.js';
import { isAddress, proposeAddress } from './address.js';

const free = () => false;

describe('the default web address', () => {
  // 4 to 6 words with the key ones, no filler: common practice, no published source.
  it.each([
    ['Winter-proofing a raw water pump', 'winter-proofing-raw-water-pump'],
    ['She kept the gates for forty years', 'kept-gates-forty-years'],
    ['What to do when the stern gland starts telling you it has had enough of leaking', 'stern-gland-starts-telling-enough'],
    ['Five boatyards that still do rivets', 'five-boatyards-rivets'],
    ['Crème brûlée à l’écluse', 'creme-brulee-lecluse'],
    ['Straße, Øresund & Łódź', 'strasse-oresund-lodz'],
    ['Где живёт канал', 'gde-zhivet-kanal'],
    ['Over and out', 'over-and-out'],
    ['10,000 locks', '10000-locks'],
    ['', 'post'],
  ])('%j becomes %j', (title, expected) => {
    expect(proposeAddress(title, free)).toBe(expected);
  });

  it.each(['運河の船', '🚤🚤', 'قناة', '-- !'])('finds letters for %j', (title) => {
    expect(isAddress(proposeAddress(title, free))).toBe(true);
  });

  it('takes another telling word, then the category, before it takes a number', () => {
    const taken = new Set<string>();
    const next = () => {
      const address = proposeAddress('Slow boats carry good winter stories north', (a) => taken.has(a), ['Towpath walks', '2026']);
      taken.add(address);
      return address;
    };
    expect([next(), next(), next(), next(), next(), next()]).toEqual([
      'slow-boats-carry-good-winter', 'slow-boats-carry-good-winter-stories', 'slow-boats-carry-good',
      'slow-boats-carry-good-winter-towpath-walks', 'slow-boats-carry-good-winter-2026', 'slow-boats-carry-good-2',
    ]);
  });

  it('never takes an address that leads elsewhere', () => {
    expect(proposeAddress('Desk', free)).not.toBe('desk');
    expect(isAddress('feed')).toBe(false);
  });

  it('is always a usable address (property)', () => {
    fc.assert(fc.property(fc.string({ unit: 'grapheme', maxLength: 200 }), (title) => {
      const address = proposeAddress(title, free);
      expect(isAddress(address)).toBe(true);
      expect(address.split('-').length).toBeLessThanOrEqual(6);
    }), { numRuns: 500 });
  });
});
