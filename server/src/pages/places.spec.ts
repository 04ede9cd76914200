import { placeAt, type Place } from './places.js';

describe('where an address belongs', () => {
  const places: Place[] = [
    { id: 1, host: null, path: '' },
    { id: 2, host: null, path: '/weir' },
    { id: 3, host: 'locks.example', path: '' },
    { id: 4, host: 'locks.example', path: '/old' },
  ];
  it.each([
    ['here.example', '/', 1, '/'],
    ['here.example', '/weir', 2, '/'],
    ['here.example', '/weir/a-post', 2, '/a-post'],
    ['here.example', '/weirs', 1, '/weirs'],
    ['LOCKS.example', '/weir', 3, '/weir'],
    ['locks.example', '/old/x', 4, '/x'],
    [undefined, '/weir/', 2, '/'],
    ['evil.example', '/weir/', 2, '/'],
  ])('%s%s is blog %d, %s', (host, path, id, rest) => {
    const at = placeAt(places, host, path)!;
    expect([at.place.id, at.path]).toEqual([id, rest]);
  });
  it('is nowhere before there is a blog', () => {
    expect(placeAt([], 'here.example', '/')).toBeNull();
  });
});
