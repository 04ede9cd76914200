import { PIECE_KINDS, TIMING_KINDS, USUAL_LIMITS, OUTLET_KINDS } from '@keyroster/core';
import { schemasOf } from '../schemas.js';

const errors = (route: Parameters<typeof schemasOf>[0], body: unknown) =>
  schemasOf(route)
    .body!.validate(body, { abortEarly: false })
    .error?.details.map((d) => d.path.join('.')) ?? [];
const stop = (more: object = {}) => ({
  kind: 'short post',
  outletId: 1,
  instruction: '',
  style: 'wedge',
  shape: 'square',
  timing: { kind: 'same day', time: '12:30' },
  ...more,
});
const asks = (...stops: object[]) => errors('pieces.make', { asks: stops });

describe('what is asked of pieces', () => {
  it('takes every kind, and each timing with what belongs to it', () => {
    for (const kind of PIECE_KINDS) expect(asks(stop({ kind }))).toEqual([]);
    const timings: Record<(typeof TIMING_KINDS)[number], object> = {
      'same hour': { minutes: 30 },
      'same day': { time: '12:30' },
      'next day': { time: '07:00' },
      weekday: { weekday: 5, time: '07:00' },
      'next week': { time: '07:00' },
      'next month': { time: '07:00' },
      date: { local: '2026-11-27T12:00' },
    };
    for (const kind of TIMING_KINDS)
      expect([kind, asks(stop({ timing: { kind, ...timings[kind] } }))]).toEqual([kind, []]);
  });

  it('refuses timings with less or more than belongs to them', () => {
    for (const timing of [
      { kind: 'same hour' },
      { kind: 'same hour', minutes: 60 },
      { kind: 'same day', time: '25:00' },
      { kind: 'same day', time: '12:00', minutes: 3 },
      { kind: 'weekday', time: '12:00' },
      { kind: 'weekday', weekday: 8, time: '12:00' },
      { kind: 'date', local: '2026-11-27' },
      { kind: 'date', local: '2026-11-27T12:00Z' },
      { kind: 'whenever' },
      null,
    ]) {
      expect([timing, asks(stop({ timing })).length > 0]).toEqual([timing, true]);
    }
  });

  it('is bounded: pieces at once, instructions, parts, tags', () => {
    expect(asks()).toEqual(['asks']);
    expect(asks(...Array.from({ length: 25 }, () => stop()))).toEqual(['asks']);
    expect(asks(stop({ instruction: 'x'.repeat(1001) }))).toEqual(['asks.0.instruction']);
    expect(asks(stop({ instruction: 'a\u0000b' }))).toEqual(['asks.0.instruction']);
    expect(asks(stop({ kind: 'banner' }))).toEqual(['asks.0.kind']);
    expect(errors('pieces.change', {})).toHaveLength(1);
    expect(errors('pieces.change', { parts: [] })).toEqual(['parts']);
    expect(errors('pieces.change', { parts: ['x'.repeat(100_001)] })).toEqual(['parts.0']);
    expect(errors('pieces.change', { tags: Array.from({ length: 41 }, (_, i) => `t${i}`) })).toEqual([
      'tags',
    ]);
    expect(errors('pieces.rebuild', { only: [-1] })).toEqual(['only.0']);
    expect(errors('pieces.change', { state: 'sent' })).toEqual(['state']);
  });
});

describe('what is asked of outlets', () => {
  const outlet = (more: object = {}) => ({
    name: 'Towline',
    kind: 'short-post network',
    protocol: 'micropub',
    address: 'https://towline.example/micropub',
    settings: {},
    limits: USUAL_LIMITS['short-post network'],
    voice: '',
    knowsKeys: false,
    ...more,
  });
  it('takes the usual limits of every kind', () => {
    for (const kind of OUTLET_KINDS)
      expect([kind, errors('outlets.add', outlet({ kind, limits: USUAL_LIMITS[kind] }))]).toEqual([kind, []]);
  });

  it('refuses limits that mean nothing, and what is not its to say', () => {
    const limits = (more: object) =>
      errors('outlets.add', outlet({ limits: { ...USUAL_LIMITS['short-post network'], ...more } }));
    expect(limits({ shapes: [] })).toEqual(['limits.shapes']);
    expect(limits({ shapes: ['square', 'square'] })).toEqual(['limits.shapes.1']);
    expect(limits({ perHour: 0 })).toEqual(['limits.perHour']);
    expect(limits({ quiet: { from: '22:00' } })).toEqual(['limits.quiet.until']);
    expect(limits({ length: { max: 300, unit: 'inches', linkCost: null } })).toEqual(['limits.length.unit']);
    expect(errors('outlets.add', outlet({ protocol: 'telegraph' }))).toEqual(['protocol']);
    expect(errors('outlets.add', outlet({ name: ' ' }))).toEqual(['name']);
    expect(errors('outlets.change', {})).toHaveLength(1);
    expect(errors('outlets.change', { resting_until: null })).toEqual(['resting_until']);
    expect(errors('outlets.add', outlet({ credentials: { token: 'x', cookie: 'y' } }))).toEqual([
      'credentials.cookie',
    ]);
  });
});
