import { atRoot, rootOf } from './root';

describe('where the newsroom stands', () => {
  it('is said by the base of its page', () => {
    expect(rootOf('https://canal.example/desk/')).toBe('');
    expect(rootOf('https://canal.example/water/news/desk/')).toBe('/water/news');
  });

  it('leaves addresses elsewhere as they are', () => {
    expect(atRoot('https://canal.example/media/12')).toBe('https://canal.example/media/12');
    expect(atRoot('/media/12')).toBe('/media/12');
  });
});
