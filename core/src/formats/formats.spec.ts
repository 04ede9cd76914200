import {
  errorOfFields,
  errorOfValue,
  errorsOfValues,
  type FieldKind,
  type FormatField,
  type FormatValue,
} from './formats.js';

const field = (kind: FieldKind, more: Partial<FormatField> = {}): FormatField => ({
  key: kind,
  label: kind,
  kind,
  required: false,
  hint: '',
  choices: [],
  ...more,
});

describe('format fields', () => {
  it.each<[FieldKind, FormatValue, boolean]>([
    ['line', 'a spanner', true],
    ['line', 'two\nlines', false],
    ['text', 'two\nlines', true],
    ['lines', ['a', 'b'], true],
    ['lines', 'a', false],
    ['number', 2.5, true],
    ['number', 'two', false],
    ['minutes', 40, true],
    ['minutes', 0, false],
    ['minutes', 1.5, false],
    ['date', '2026-02-28', true],
    ['date', '2026-02-30', false],
    ['link', 'https://halfwaylock.example/a', true],
    ['link', 'javascript:alert(1)', false],
    ['link', '/inner', false],
    ['choice', 'easy', true],
    ['choice', 'odd', false],
  ])('%s takes %j: %s', (kind, value, ok) => {
    expect(errorOfValue(field(kind, { choices: ['easy', 'hard'] }), value) === null).toBe(ok);
  });
  it('wants required fields filled, and nothing of the others', () => {
    expect(
      errorsOfValues([field('line', { required: true }), field('number')], { line: '  ' }).map((f) => f.key),
    ).toEqual(['line']);
    expect(errorsOfValues([field('lines', { required: true })], { lines: ['', ' '] })).toHaveLength(1);
  });
  it('tells what is wrong with fields', () => {
    expect(errorOfFields([field('line'), field('line')])).toMatch(/Two fields/);
    expect(errorOfFields([field('choice')])).toMatch(/at least two/);
    expect(errorOfFields([field('line', { label: ' ' })])).toMatch(/name/);
    expect(errorOfFields([field('line'), field('choice', { choices: ['a', 'b'] })])).toBeNull();
  });
});
