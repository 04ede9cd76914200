import { TestBed } from '@angular/core/testing';
import { Component, inject } from '@angular/core';
import { answer, refuse, show } from '../../testing/newsroom';
import { Outbox } from './outbox.service';

@Component({ template: '' })
class Screen {
  readonly outbox = inject(Outbox);
}
const PITCH = { title: 'Seen from the bus', thought: '', text: 'A heron.', categoryId: null };
const waiting = () =>
  JSON.parse(localStorage.getItem('captures') ?? '[]') as { key: string; refused: string | null }[];

describe('what is written down on a device', () => {
  beforeEach(() => localStorage.clear());
  afterAll(() => localStorage.clear());

  it('is kept before anything is sent, and gone once it is said to be there', async () => {
    const { component } = await show(Screen, { role: 'contributor' });
    const done = component.outbox.put(PITCH);
    expect(waiting()).toEqual([expect.objectContaining({ ...PITCH, refused: null })]);
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toEqual({ ...PITCH, key: waiting()[0]!.key });
        r.flush({ id: 4, title: PITCH.title, stage: 'pitch' });
      },
      '/api/captures',
      'POST',
    );
    await done;
    expect(waiting()).toEqual([]);
    expect(component.outbox.arrived()).toEqual([{ id: 4, title: PITCH.title, stage: 'pitch' }]);
  });

  it('stays while the newsroom cannot be reached, and is sent again under the same key', async () => {
    const { component } = await show(Screen);
    const done = component.outbox.put(PITCH);
    await answer((r) => r.error(new ProgressEvent('error')), '/api/captures', 'POST');
    await done;
    const [kept] = waiting();
    expect(kept!.refused).toBeNull();
    window.dispatchEvent(new Event('online'));
    await answer(
      (r) => {
        expect((JSON.parse(r.request.body as string) as { key: string }).key).toBe(kept!.key);
        r.flush({ id: 4, title: PITCH.title, stage: 'pitch' });
      },
      '/api/captures',
      'POST',
    );
    expect(waiting()).toEqual([]);
  });

  it('stays with the sentence when it is refused, and is sent no more by itself', async () => {
    const { component } = await show(Screen);
    const done = component.outbox.put(PITCH);
    await answer(refuse({ detail: 'That category is gone.' }), '/api/captures', 'POST');
    await done;
    expect(component.outbox.own()).toEqual([expect.objectContaining({ refused: 'That category is gone.' })]);
    await component.outbox.send();
    component.outbox.drop(waiting()[0]!.key);
    expect(waiting()).toEqual([]);
  });

  it('is brought even when it was written down while another was on its way', async () => {
    const { component } = await show(Screen);
    void component.outbox.put(PITCH);
    const second = component.outbox.put({ ...PITCH, title: 'Seen from the bridge' });
    for (const title of [PITCH.title, 'Seen from the bridge'])
      await answer((r) => r.flush({ id: 4, title, stage: 'pitch' }), '/api/captures', 'POST');
    await second;
    expect(waiting()).toEqual([]);
    expect(component.outbox.arrived().map((a) => a.title)).toEqual(['Seen from the bridge', PITCH.title]);
  });

  it('of somebody else on the same device is neither shown nor sent', async () => {
    const foreign = { ...PITCH, key: 'k', personId: 999, blogId: 1, at: '', refused: null };
    localStorage.setItem('captures', JSON.stringify([foreign]));
    const { component } = await show(Screen);
    await component.outbox.send();
    expect(component.outbox.own()).toEqual([]);
    expect(waiting()).toEqual([foreign]);
    expect(TestBed.inject(Outbox).author()).toMatchObject({ personId: 1 });
  });
});
