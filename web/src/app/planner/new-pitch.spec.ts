import { provideRouter } from '@angular/router';
import { answer, post, refuse, show } from '../../testing/newsroom';
import { choose, press, type } from '../../testing/hands';
import { NewPitch } from './new-pitch';

describe('a new pitch', () => {
  it('needs a title', async () => {
    const { loader, page, closed } = await show(NewPitch);
    await type(loader, 'Title', '   ');
    await press(loader, 'Put it in the tray');
    expect(page.querySelector('[role=alert]')!.textContent).toBe('It needs a title, however rough.');
    expect(closed).toEqual([]);
  });

  it('goes into the tray', async () => {
    const { loader, closed } = await show(NewPitch);
    await type(loader, 'Title', 'Lamps');
    await type(loader, 'A line of thought', 'Who lights them?');
    await choose(loader, 'Category', 'Engines');
    await press(loader, 'Put it in the tray');
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toEqual({
          title: 'Lamps',
          thought: 'Who lights them?',
          categoryId: 2,
        });
        r.flush(post());
      },
      '/api/posts',
      'POST',
    );
    expect(closed).toHaveLength(1);
  });

  it('that is refused says so at its field and stays', async () => {
    const { loader, page, closed, fixture } = await show(NewPitch);
    await type(loader, 'Title', 'Lamps');
    await press(loader, 'Put it in the tray');
    await answer(
      refuse({ detail: 'Look again.', fields: [{ field: 'title', sentence: 'It is there already.' }] }),
      '/api/posts',
      'POST',
    );
    await fixture.whenStable();
    expect(page.querySelector('mat-error')!.textContent).toBe('It is there already.');
    expect(closed).toEqual([]);
  });

  it('can be begun at once by those who edit', async () => {
    const { loader, closed } = await show(NewPitch, {
      providers: [provideRouter([{ path: 'posts/:id', component: NewPitch }])],
    });
    await type(loader, 'Title', 'Lamps');
    await press(loader, 'Start writing it');
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toMatchObject({ bylineId: 1 });
        r.flush(post({ id: 12, version: 1 }));
      },
      '/api/posts',
      'POST',
    );
    await answer(
      (r) => {
        expect(r.request.headers.get('If-Match')).toBe('"1"');
        r.flush({ post: post(), sentence: '' });
      },
      '/api/posts/12/moves',
      'POST',
    );
    expect(closed).toHaveLength(1);
  });

  it('offers contributors no beginning at once', async () => {
    const { page } = await show(NewPitch, { role: 'contributor' });
    expect(page.textContent).not.toContain('Start writing it');
  });
});
