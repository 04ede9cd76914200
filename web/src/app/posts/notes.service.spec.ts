import { TestBed } from '@angular/core/testing';
import { Component, inject } from '@angular/core';
import type { LiveEvent } from '@keyroster/contract';
import { answer, show } from '../../testing/newsroom';
import { Live } from '../api/live';
import { NotesService } from './notes.service';

@Component({ template: '', providers: [NotesService] })
class Host {
  readonly notes = inject(NotesService);
}
const note = (id: number, parts: object = {}) => ({
  id,
  parentId: null,
  settledAt: null,
  text: 'x',
  ...parts,
});

describe('the notes of the open post', () => {
  it('are open while nobody resolved them; answers are none of their own', async () => {
    const { notes } = (await show(Host)).component;
    const shown = notes.show(7);
    await answer(
      (r) => r.flush([note(1), note(2, { parentId: 1 }), note(3, { settledAt: '2026-11-26T10:00:00Z' })]),
      '/api/posts/7/notes',
    );
    await shown;
    expect(notes.open().map((n) => n.id)).toEqual([1]);
  });

  it('of a post that was left behind are never those of the next', async () => {
    const { notes } = (await show(Host)).component;
    const [first, second] = [notes.show(7), notes.show(8)];
    await answer((r) => r.flush([note(80)]), '/api/posts/8/notes');
    await answer((r) => r.flush([note(70)]), '/api/posts/7/notes');
    await Promise.all([first, second]);
    expect(notes.notes().map((n) => n.id)).toEqual([80]);
  });

  it('come again when somebody wrote one, and stay when they cannot be fetched', async () => {
    const { notes } = (await show(Host)).component;
    void notes.show(7);
    await answer((r) => r.flush([note(1)]), '/api/posts/7/notes');
    const live = TestBed.inject(Live) as unknown as { events: { next(e: LiveEvent): void } };
    const told = () => live.events.next({ id: 1, kind: 'note', postId: 7, version: null, personId: 2 });
    told();
    await answer((r) => r.flush([note(1), note(2)]), '/api/posts/7/notes');
    expect(notes.notes()).toHaveLength(2);
    told();
    await answer((r) => r.error(new ProgressEvent('error')), '/api/posts/7/notes');
    expect(notes.notes()).toHaveLength(2);
  });
});
