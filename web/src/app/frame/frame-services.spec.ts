import { TestBed } from '@angular/core/testing';
import type { Role } from '@keyroster/core';
import type { Subject } from 'rxjs';
import { answer, work } from '../../testing/newsroom';
import { Live } from '../api/live';
import { WaitingComments } from '../comments/waiting.service';
import { Actions } from './actions.service';
import { RunwayService } from './runway.service';
import { ThemeService } from './theme.service';

const tell = (kind: string) =>
  (TestBed.inject(Live) as unknown as { events: Subject<object> }).events.next({ kind });

describe('what can be done from anywhere', () => {
  const labels = async (role: Role) => (await work(Actions, { role })).all().map((a) => a.label);

  it('is all of it for the managing editor', async () => {
    expect(await labels('managing editor')).toEqual(
      expect.arrayContaining(['New pitch', 'Go to Site', 'Plan serials', 'Write a letter to subscribers']),
    );
  });

  it('is nothing that a contributor may not enter', async () => {
    const all = await labels('contributor');
    expect(all).toEqual(expect.arrayContaining(['New pitch', 'Go to Planner']));
    for (const closed of ['Go to Site', 'Go to Comments', 'Plan serials', 'Write a letter to subscribers'])
      expect(all).not.toContain(closed);
  });

  it('has each name once, and a key for no two', async () => {
    const all = (await work(Actions)).all();
    expect(new Set(all.map((a) => a.label)).size).toBe(all.length);
    const keys = all.flatMap((a) => a.keys ?? []);
    expect(new Set(keys).size).toBe(keys.length);
  });
});

describe('colours', () => {
  const root = document.documentElement;
  afterEach(() => {
    localStorage.clear();
    delete root.dataset['theme'];
  });

  it('are chosen, remembered on this device, and given back to the system', () => {
    TestBed.inject(ThemeService).set('dark');
    expect(root.dataset['theme']).toBe('dark');
    TestBed.resetTestingModule();
    delete root.dataset['theme'];
    const again = TestBed.inject(ThemeService);
    expect([again.theme(), root.dataset['theme']]).toEqual(['dark', 'dark']);
    again.set('system');
    expect(root.dataset['theme']).toBeUndefined();
  });
});

describe('the runway', () => {
  it('is asked for anew when posts change, and stands while the newsroom cannot say', async () => {
    const runway = await work(RunwayService);
    void runway.refresh();
    await answer((r) => r.flush({ days: 9 }), '/api/runway');
    expect(runway.view()).toEqual({ days: 9 });
    tell('post');
    await answer((r) => r.error(new ProgressEvent('error')), '/api/runway');
    expect(runway.view()).toEqual({ days: 9 });
    tell('post');
    await answer((r) => r.flush({ days: 8 }), '/api/runway');
    expect(runway.view()).toEqual({ days: 8 });
  });
});

describe('comments that wait', () => {
  it('are counted for those who moderate', async () => {
    const waiting = await work(WaitingComments);
    await answer((r) => r.flush({ comments: [], counts: { held: 3 } }), '/api/comments');
    expect(waiting.count()).toBe(3);
    tell('comment');
    await answer((r) => r.flush({ comments: [], counts: { held: 2 } }), '/api/comments');
    expect(waiting.count()).toBe(2);
  });

  it('are not asked for by anybody else', async () => {
    const waiting = await work(WaitingComments, { role: 'contributor' });
    tell('comment');
    await expect(answer(() => undefined, '/api/comments')).rejects.toThrow('Nobody asked');
    expect(waiting.count()).toBe(0);
  });
});
