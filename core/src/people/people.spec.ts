import { initials } from './people.js';

describe('initials', () => {
  it.each([
    ['Mara Wick', 'MW'],
    ['Tobias van Orme', 'TO'],
    ['Ingrid', 'I'],
    ['  élise  ñandú ', 'ÉÑ'],
    ['𝒜da Low', '𝒜L'],
    ['', '?'],
  ])('%j gives %j', (name, expected) => {
    expect(initials(name)).toBe(expected);
  });
});
