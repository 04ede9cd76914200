import fc from 'fast-check';
import {
  backward,
  predictorFor,
  type BatchChange,
  type BatchContext,
  type BatchItem,
  type FormatField,
  type Outcome,
  type Post,
} from '../index.js';
import { aContext, aPost, published } from '../posts/testing.js';

const hours: FormatField[] = [
  { key: 'hours', label: 'Hours', kind: 'number', required: false, hint: '', choices: [] },
  { key: 'tools', label: 'Tools', kind: 'line', required: false, hint: '', choices: [] },
  { key: 'minutes', label: 'Minutes', kind: 'minutes', required: false, hint: '', choices: [] },
  { key: 'steps', label: 'Steps', kind: 'lines', required: false, hint: '', choices: [] },
];
export const scene: BatchContext = {
  ...aContext({
    format: (id) => (id === 7 ? { fields: hours, retired: false } : undefined),
    ownerOf: (slug) => (slug === 'taken' ? { id: 99, title: 'Another', formerly: false } : undefined),
    pastRun: 'refused',
  }),
  spread: new Map(),
  bytesOf: (media) => ({ 8: 60_000, 9: 4_800_000, 10: 390_000 })[media],
  lighter: () => undefined,
  rewritten: () => undefined,
};
export const post = aPost;
export const names = {
  people: new Map([
    [1, 'Mara Winslow'],
    [2, 'Tobias Orme'],
  ]),
  categories: new Map([
    [1, 'Engine room'],
    [2, 'Galley'],
  ]),
  tags: new Map([
    [1, 'weirs'],
    [2, 'stoves'],
  ]),
  bytes: new Map([[9, 4_800_000]]),
};

export function predict(changes: BatchChange[], of = post(), at = scene) {
  const made = predictorFor(changes, at);
  if (!made.ok) throw new Error(made.sentence);
  return made.predict(of);
}
/** What changes do, and what they say of it. */
export const item = (changes: BatchChange[], of = post(), at = scene) => {
  const outcome = predict(changes, of, at);
  return outcome.state === 'changes' ? { state: outcome.state, ...outcome.item } : outcome;
};
export const written = (of: Post, changes: BatchChange[], at = scene): Post => {
  const outcome = predict(changes, of, at);
  return outcome.state === 'changes' ? outcome.edited.post : of;
};
export const revert = (of: Post, back: BatchItem, force = false, at = scene): Outcome =>
  backward(at)(of, { kind: 'revert', item: back, force });

export const anyChange: fc.Arbitrary<BatchChange> = fc.oneof(
  fc.record({ kind: fc.constant('byline' as const), to: fc.constantFrom(1, 2, 3) }),
  fc.record({ kind: fc.constant('category' as const), to: fc.constantFrom(1, 2, 3) }),
  fc.record({ kind: fc.constant('second category' as const), to: fc.constantFrom(null, 4, 5) }),
  fc.record({
    kind: fc.constant('tags' as const),
    gain: fc.uniqueArray(fc.integer({ min: 1, max: 6 })),
    lose: fc.uniqueArray(fc.integer({ min: 1, max: 6 })),
  }),
  fc.record({
    kind: fc.constant('tags become' as const),
    to: fc.uniqueArray(fc.integer({ min: 1, max: 6 })),
  }),
  fc.record({
    kind: fc.constant('tags merge' as const),
    from: fc.uniqueArray(fc.integer({ min: 1, max: 6 }), { minLength: 1 }),
    into: fc.integer({ min: 1, max: 6 }),
  }),
  fc.record({
    kind: fc.constant('categories merge' as const),
    from: fc.constantFrom([1], [2, 4], [5]),
    into: fc.constantFrom(1, 3, 4),
  }),
  fc.record({ kind: fc.constant('lighten' as const), max: fc.constantFrom(100_000, 400_000, 900_000) }),
  fc.record({
    kind: fc.constant('access' as const),
    to: fc.constantFrom('everyone' as const, 'staff' as const),
  }),
  fc.record({ kind: fc.constant('comments' as const), to: fc.boolean() }),
  fc.record({ kind: fc.constant('campaign' as const), to: fc.constantFrom('', 'Winter', 'Spring') }),
  fc.record({
    kind: fc.constant('spotlight' as const),
    to: fc.constantFrom(null, { from: '2026-12-01', until: '2026-12-07' }),
  }),
  fc.record({
    kind: fc.constant('shift' as const),
    days: fc.integer({ min: -3, max: 40 }),
    minutes: fc.integer({ min: -60, max: 60 }),
  }),
  fc.record({
    kind: fc.constant('replace' as const),
    places: fc.constantFrom(['title'] as const, ['title', 'excerpt'] as const, ['slug'] as const),
    find: fc.constantFrom('e', 'gland', 'drops', 'zz'),
    with: fc.constantFrom('x', 'box', ''),
    pattern: fc.constant(false),
    capitals: fc.boolean(),
  }),
  fc.record({
    kind: fc.constant('reassign' as const),
    from: fc.constantFrom(7, 8),
    to: fc.constantFrom(8, 9),
  }),
  fc.constant({ kind: 'stage', to: 'scheduled' } as const),
  fc.constant({ kind: 'stage', to: 'drafting', note: 'Again.' } as const),
  fc.constant({ kind: 'bin' } as const),
);
export const anyPost = fc
  .record({
    tagIds: fc.uniqueArray(fc.integer({ min: 1, max: 6 })).map((t) => t.sort((a, b) => a - b)),
    stage: fc.constantFrom(
      'drafting' as const,
      'cleared' as const,
      'scheduled' as const,
      'published' as const,
    ),
    bylineId: fc.constantFrom(1, 2),
    categoryId: fc.constantFrom(1, 2),
    leadPicture: fc.constantFrom(null, { media: 8, alt: '' }, { media: 9, alt: '' }),
  })
  .map((f) => (f.stage === 'published' ? published(f) : post(f)));
