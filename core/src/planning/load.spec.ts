import { fitting, formatAbsence, formatLoad, weekLoads, type Absence } from './load.js';
import {
  conflictsWithDate,
  daysToRun,
  NO_DATE_CONSTRAINT,
  formatPressing,
  formatDateConstraint,
  dateConstraintError,
} from './date-constraint.js';
import { checklistOf, lacks, formatChecklist } from './checklist.js';
import { STAGES, type Stage } from '../stages/stages.js';

const away = (from: string, to: string, personId = 7): Absence => ({ id: 1, personId, from, to, note: '' });

describe('load', () => {
  const post = (date: string, bylineId: number | null = 7, stage: Stage = 'drafting') => ({
    runLocal: `${date}T08:00:00`,
    bylineId,
    stage,
  });
  it('counts what runs in each week, and what fits after absences', () => {
    const loads = weekLoads(
      { id: 7, capacity: 3 },
      [
        post('2026-11-30'),
        post('2026-12-06'),
        post('2026-12-07'),
        post('2026-12-08', 8),
        post('2026-12-09', 7, 'withdrawn'),
      ],
      [away('2026-12-10', '2026-12-20')],
      ['2026-11-30', '2026-12-07', '2026-12-14'],
    );
    expect(loads.map((l) => [l.posts, l.fits, l.daysAway])).toEqual([
      [2, 3, 0],
      [1, 1, 4],
      [0, 0, 7],
    ]);
    expect(loads.map(formatLoad)).toEqual(['2 of 3', '1 of 1, 4 days away', '0 of 0, away']);
    expect(formatLoad(weekLoads({ id: 7, capacity: null }, [], [], ['2026-11-30'])[0]!)).toBe('0');
  });
  it('rounds what fits to whole posts', () => {
    expect([0, 1, 3, 4, 7].map((days) => fitting(1, days))).toEqual([1, 1, 1, 0, 0]);
    expect(fitting(5, 2)).toBe(4);
  });
  it('says an absence shortly', () => {
    expect(formatAbsence(away('2026-12-07', '2026-12-13'))).toBe('away Mon 7 to Sun 13 Dec');
    expect(formatAbsence(away('2026-12-28', '2027-01-03'), '2026-12-01')).toBe(
      'away Mon 28 Dec to Sun 3 Jan 2027',
    );
    expect(formatAbsence(away('2026-12-07', '2026-12-07'))).toBe('away Mon 7 Dec');
  });
});

describe('dated ideas', () => {
  const dateConstraint = (over: Partial<typeof NO_DATE_CONSTRAINT>) => ({ ...NO_DATE_CONSTRAINT, ...over });
  it('say what a date has against them', () => {
    expect(conflictsWithDate(dateConstraint({ mustBeOn: '2026-12-24' }), '2026-12-23')).toBe(
      'It must be on Thu 24 Dec.',
    );
    expect(conflictsWithDate(dateConstraint({ notBefore: '2026-12-01' }), '2026-11-30')).toBe(
      'Not before Tue 1 Dec.',
    );
    expect(conflictsWithDate(dateConstraint({ notAfter: '2026-12-24' }), '2027-01-02')).toBe(
      'Not after Thu 24 Dec 2026.',
    );
    expect(
      conflictsWithDate(dateConstraint({ notBefore: '2026-12-01', notAfter: '2026-12-24' }), '2026-12-24'),
    ).toBeNull();
    expect(conflictsWithDate(NO_DATE_CONSTRAINT, '2026-12-24')).toBeNull();
  });
  it('press when their day comes near, and say when it has gone by', () => {
    expect(daysToRun(dateConstraint({ notAfter: '2026-12-05' }), '2026-11-25')).toBe(10);
    expect(
      ['2026-11-25', '2026-12-05', '2026-12-06', '2026-10-01'].map((today) =>
        formatPressing(dateConstraint({ notAfter: '2026-12-05' }), today),
      ),
    ).toEqual(['10 days to go', 'today or never', 'its day has gone by', '']);
    expect(formatPressing(dateConstraint({ notBefore: '2026-12-05' }), '2027-12-06')).toBe('');
  });
  it('are said in words and refused when they leave no day', () => {
    expect(formatDateConstraint(dateConstraint({ notBefore: '2026-12-01', notAfter: '2026-12-12' }))).toBe(
      'not before Tue 1 Dec, not after Sat 12 Dec',
    );
    expect(formatDateConstraint(dateConstraint({ mustBeOn: '2026-12-24' }))).toBe('on Thu 24 Dec');
    expect(dateConstraintError(dateConstraint({ notBefore: '2026-12-12', notAfter: '2026-12-01' }))).toBe(
      'Not before Sat 12 Dec and not after Tue 1 Dec leaves no day.',
    );
    expect(dateConstraintError(dateConstraint({ mustBeOn: '2026-12-12', notAfter: '2026-12-01' }))).toMatch(
      /rule out/,
    );
    expect(dateConstraintError(dateConstraint({ mustBeOn: '2026-02-30' }))).toMatch(/is written like/);
    expect(dateConstraintError(dateConstraint({ mustBeOn: '2026-12-12' }))).toBeNull();
  });
});

describe('the checklist of a post', () => {
  const whole = {
    bylineId: 7,
    categoryId: 1,
    words: 400,
    excerpt: 'One sentence.',
    openNotes: 0,
    openChores: [],
    doneChores: 0,
  };
  it('lacks nothing but the next step when the post is whole', () => {
    expect(STAGES.map((stage) => lacks({ ...whole, stage }))).toEqual([
      ['commissioning'],
      ['handing in'],
      ['handing in'],
      ['clearing'],
      ['scheduling'],
      [],
      [],
      [],
    ]);
  });
  it('names every part that is missing, and counts what is done', () => {
    const bare = {
      stage: 'commissioned' as const,
      bylineId: null,
      categoryId: null,
      words: 0,
      excerpt: ' ',
      openNotes: 2,
      openChores: ['Proof'],
      doneChores: 1,
    };
    expect(lacks(bare)).toEqual([
      'a writer',
      'a category',
      'its text',
      'an excerpt',
      'answers to 2 notes',
      '“Proof”',
      'handing in',
    ]);
    expect(formatChecklist(checklistOf(bare))).toBe('1 of 8 done');
    expect(formatChecklist(checklistOf({ ...whole, stage: 'cleared' }))).toBe('5 of 6 done');
    expect(formatChecklist(checklistOf({ ...whole, stage: 'published' }))).toBe('');
  });
});
