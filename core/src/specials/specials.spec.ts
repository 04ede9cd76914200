import fc from 'fast-check';
import { STAGES } from '../stages/stages.js';
import {
  OFFLINE_COVER,
  mapSrcset,
  offlineAddress,
  offlineMedia,
  offlinePage,
  partState,
  publishRefusal,
  specialNotes,
  type PartState,
} from './index.js';

describe('what readers of a special get of a post', () => {
  it.each<[Parameters<typeof partState>[0], PartState]>([
    [{ stage: 'published', binned: false, readable: true }, 'readable'],
    [{ stage: 'published', binned: false, readable: false }, 'not for everybody'],
    [{ stage: 'withdrawn', binned: false, readable: false }, 'withdrawn'],
    [{ stage: 'withdrawn', binned: true, readable: false }, 'in the bin'],
    [{ stage: 'scheduled', binned: false, readable: false }, 'not out'],
    [{ stage: 'drafting', binned: true, readable: false }, 'in the bin'],
  ])('of %j is: %s', (facts, state) => {
    expect(partState(facts)).toBe(state);
  });

  it('is nothing but what everybody may read, or that something was withdrawn', () => {
    for (const stage of STAGES)
      for (const binned of [true, false]) {
        const state = partState({ stage, binned, readable: false });
        expect(state).not.toBe('readable');
        expect(state === 'withdrawn').toBe(stage === 'withdrawn' && !binned);
      }
  });
});

describe('what is told of a special', () => {
  const part = (title: string, state: PartState) => ({ title, state });
  it('names what readers do not get, the gravest first', () => {
    const parts = [
      part('Ice', 'readable'),
      ...['A', 'B', 'C', 'D', 'E'].map((t) => part(t, 'not out')),
      part('Gone', 'withdrawn'),
      part('Mine', 'not for everybody'),
    ];
    expect(specialNotes({ intro: ' ', hasCover: false, parts })).toEqual([
      '1 post withdrawn, which the special says: “Gone”.',
      '1 post not for everybody and left out: “Mine”.',
      '5 posts not out yet: “A”, “B”, “C”, 2 more.',
      'It has no picture on its cover.',
      'Its cover says nothing of what it is about.',
    ]);
    expect(specialNotes({ intro: 'x', hasCover: true, parts: [parts[0]!] })).toEqual([]);
    expect(specialNotes({ intro: 'x', hasCover: true, parts: [] })).toEqual(['No post is in it yet.']);
  });

  it('is that there is nothing to publish before somebody can read a part', () => {
    expect(publishRefusal({ parts: [part('a', 'not out'), part('b', 'withdrawn')] })).toContain('nothing');
    expect(publishRefusal({ parts: [part('a', 'not out'), part('b', 'readable')] })).toBeNull();
  });
});

describe('addresses of a special as plain files', () => {
  const slugs = new Set(['ice-goes-out', 'index']);
  it.each<[string, ReturnType<typeof offlineAddress>]>([
    ['./', { kind: 'cover', hash: '' }],
    ['./#content', { kind: 'cover', hash: '#content' }],
    ['ice-goes-out', { kind: 'page', slug: 'ice-goes-out', hash: '' }],
    ['ice-goes-out#the-thaw', { kind: 'page', slug: 'ice-goes-out', hash: '#the-thaw' }],
    ['/below/media/12', { kind: 'picture', id: 12, size: null }],
    ['/media/12/960.webp', { kind: 'picture', id: 12, size: '960.webp' }],
    ['/files/3', { kind: 'file', id: 3 }],
    ['/assets/site.css', { kind: 'asset', name: 'site.css' }],
    ['/assets/../secret', { kind: 'elsewhere' }],
    ['/assets/a/../../secret', { kind: 'elsewhere' }],
    ['another-post', { kind: 'elsewhere' }],
    ['#note-1', { kind: 'elsewhere' }],
    ['https://example.org/media/12', { kind: 'elsewhere' }],
    ['look.css', { kind: 'elsewhere' }],
  ])('%s', (address, found) => {
    expect(offlineAddress(address, '/below', slugs)).toEqual(found);
  });

  it('give each page a name of its own, none the name of the cover', () => {
    fc.assert(
      fc.property(fc.uniqueArray(fc.stringMatching(/^[a-z0-9]{1,6}(-[a-z0-9]{1,6})?$/)), (some) => {
        const names = [OFFLINE_COVER, ...[...some, 'index'].map(offlinePage)];
        expect(new Set(names).size).toBe(new Set([...some, 'index']).size + 1);
      }),
    );
  });

  it('give pictures and films an ending that says what they are', () => {
    expect(offlineMedia('media', 12, null, 'image/jpeg')).toBe('media/12.jpg');
    expect(offlineMedia('media', 12, '960.webp', 'image/jpeg')).toBe('media/12/960.webp');
    expect(offlineMedia('files', 3, null, 'text/vtt')).toBe('files/3.vtt');
    expect(offlineMedia('files', 3, null, 'application/unheard-of')).toBe('files/3');
  });

  // Image candidate strings as the HTML standard has them (4.8.4.2.1): an address, then a width or a density.
  it('keep widths and densities beside them', () => {
    const named = (address: string) => address.replace('/media/', 'm/');
    expect(mapSrcset('/media/1/480.webp 480w, /media/1/960.webp 960w', named)).toBe(
      'm/1/480.webp 480w, m/1/960.webp 960w',
    );
    expect(mapSrcset('/media/1/a.jpg 2x,\n  /media/1/b.jpg', named)).toBe('m/1/a.jpg 2x, m/1/b.jpg');
  });
});
