import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { Subject } from 'rxjs';
import { answer, work } from '../../testing/newsroom';
import { Live } from '../api/live';
import { PlannerPieces } from './planner-pieces.service';
import { PlannerPreferences } from './planner-preferences.service';
import { PlannerService } from './planner.service';

const PATH = '/api/planner/pieces';
const piece = (id: number, local: string) => ({ id, local });
const view = signal<{ from: string; to: string } | null>(null);
const start = () => work(PlannerPieces, { providers: [{ provide: PlannerService, useValue: { view } }] });
const span = { from: '2026-11-23', to: '2026-12-20' };

describe('pieces in the planner', () => {
  beforeEach(() => {
    localStorage.clear();
    view.set(span);
  });
  afterAll(() => localStorage.clear());

  it('are asked for once somebody wants to see them, for the weeks on screen', async () => {
    const pieces = await start();
    TestBed.tick();
    await expect(answer(() => undefined, PATH)).rejects.toThrow('Nobody asked');
    TestBed.inject(PlannerPreferences).remember({ pieces: true });
    TestBed.tick();
    await answer((r) => {
      expect(r.request.urlWithParams + r.request.params.toString()).toMatch(/from=2026-11-23.*to=2026-12-20/);
      r.flush([
        piece(1, '2026-12-01T08:00:00'),
        piece(2, '2026-12-01T17:00:00'),
        piece(3, '2026-12-02T08:00:00'),
      ]);
    }, PATH);
    expect(pieces.on('2026-12-01').map((p) => p.id)).toEqual([1, 2]);
    expect(pieces.on('2026-12-03')).toEqual([]);
    TestBed.inject(PlannerPreferences).remember({ pieces: false });
    TestBed.tick();
    expect(pieces.on('2026-12-01')).toEqual([]);
  });

  it('stand as they were told while the newsroom cannot say anew', async () => {
    TestBed.inject(PlannerPreferences).remember({ pieces: true });
    TestBed.resetTestingModule();
    const pieces = await start();
    TestBed.tick();
    await answer((r) => r.flush([piece(1, '2026-12-01T08:00:00')]), PATH);
    (TestBed.inject(Live) as unknown as { events: Subject<object> }).events.next({ kind: 'outlet' });
    await answer((r) => r.error(new ProgressEvent('error')), PATH);
    expect(pieces.on('2026-12-01').map((p) => p.id)).toEqual([1]);
  });
});
