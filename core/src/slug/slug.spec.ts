import { fc } from '../testing.js';
import { isSlug, proposeSlug, proposeSlugs } from './slug.js';

const free = () => false;

describe('the default web address', () => {
  // 4 to 6 words with the key ones, no filler: common practice, no published source.
  it.each([
    ['Winter-proofing a raw water pump', 'winter-proofing-raw-water-pump'],
    ['She kept the gates for forty years', 'kept-gates-forty-years'],
    [
      'What to do when the stern gland starts telling you it has had enough of leaking',
      'stern-gland-starts-telling-enough',
    ],
    ['Five boatyards that still do rivets', 'five-boatyards-rivets'],
    ['Crème brûlée à l’écluse', 'creme-brulee-lecluse'],
    ['Straße, Øresund & Łódź', 'strasse-oresund-lodz'],
    ['Где живёт канал', 'gde-zhivet-kanal'],
    ['Over and out', 'over-and-out'],
    ['10,000 locks', '10000-locks'],
    ['', 'post'],
  ])('%j becomes %j', (title, expected) => {
    expect(proposeSlug(title, free)).toBe(expected);
  });

  it.each(['運河の船', '🚤🚤', 'قناة', '-- !'])('finds letters for %j', (title) => {
    expect(isSlug(proposeSlug(title, free))).toBe(true);
  });

  it('is filled up to four words from what the post is about', () => {
    const propose = (title: string, about: string[]) => proposeSlug(title, free, about, '2026');
    expect(propose('Frost on the steps', ['Towpath walks', 'Salt, sand and patience.'])).toBe(
      'frost-steps-towpath-walks',
    );
    expect(propose('Stoves', ['Galley', 'How to keep one in overnight.'])).toBe('stoves-galley-keep-one');
    expect(propose('Stoves', ['Stoves'])).toBe('stoves');
    for (const title of ['One lock', 'Ice', 'The long pound'])
      expect(propose(title, ['Lock-keepers', 'Odette keeps four clocks.']).split('-')).toHaveLength(4);
  });

  it('takes another telling word, then the category, before it takes a number', () => {
    const taken = new Set<string>();
    const next = () => {
      const slug = proposeSlug(
        'Slow boats carry good winter stories north',
        (a) => taken.has(a),
        ['Towpath walks'],
        '2026',
      );
      taken.add(slug);
      return slug;
    };
    expect([next(), next(), next(), next(), next(), next()]).toEqual([
      'slow-boats-carry-good-winter',
      'slow-boats-carry-good-winter-stories',
      'slow-boats-carry-good',
      'slow-boats-carry-good-winter-towpath-walks',
      'slow-boats-carry-good-winter-2026',
      'slow-boats-carry-good-2',
    ]);
  });

  it('never takes an address that leads elsewhere', () => {
    expect(proposeSlug('Desk', free)).not.toBe('desk');
    expect(isSlug('feed')).toBe(false);
  });

  it('is always a usable address (property)', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 200 }), (title) => {
        const slug = proposeSlug(title, free);
        expect(isSlug(slug)).toBe(true);
        expect(slug.split('-').length).toBeLessThanOrEqual(6);
      }),
      { numRuns: 500 },
    );
  });

  it('does not fill up with another form of a word that is there', () => {
    expect(proposeSlug('The long recorder', () => false, ['What the recorder heard', 'hear recorders'])).toBe(
      'long-recorder-heard',
    );
    const proposals = proposeSlugs('Fog on the pound', () => false, ['what one can hear', 'heard in fogs']);
    for (const slug of proposals) expect(slug).not.toMatch(/hear.*hear|fog.*fog/);
    expect(proposals.length).toBeGreaterThan(0);
  });
});
