import { answer, work } from '../../testing/newsroom';
import { LibraryService } from './library.service';

const picture = (id: number, name = `p${id}.jpg`) => ({ id, name }) as never;
const page = (ids: number[], next: number | null = null) => ({
  pictures: ids.map((id) => picture(id)),
  tags: ['locks'],
  next,
});
let library: LibraryService;
beforeEach(async () => {
  library = await work(LibraryService);
});
const ids = () => library.pictures()?.map((p) => p.id);

describe('the library', () => {
  it('comes a page at a time, and ends', async () => {
    const found = library.find({ words: 'lock' });
    await answer((r) => r.flush(page([3, 2], 2)), '/api/media');
    await found;
    const more = library.more();
    await answer((r) => {
      expect(r.request.params.get('before')).toBe('2');
      expect(r.request.params.get('words')).toBe('lock');
      r.flush(page([1]));
    }, '/api/media');
    await more;
    expect(ids()).toEqual([3, 2, 1]);
    await library.more();
    expect(library.next()).toBeNull();
  });

  it('puts a picture that was changed in its place', async () => {
    const found = library.find({});
    await answer((r) => r.flush(page([3, 2])), '/api/media');
    await found;
    library.put(picture(2, 'renamed.jpg'));
    expect(library.pictures()!.map((p) => p.name)).toEqual(['p3.jpg', 'renamed.jpg']);
  });

  it('says what went wrong, and keeps what it has', async () => {
    const found = library.find({});
    await answer((r) => r.flush(page([3])), '/api/media');
    await found;
    const again = library.refresh();
    await answer((r) => r.flush({}, { status: 500, statusText: 'No' }), '/api/media');
    await again;
    expect([ids(), library.error() !== '']).toEqual([[3], true]);
  });
});
