import fc from 'fast-check';
import {
  applyEdit,
  backward,
  BATCH_FIELDS,
  bodyText,
  differencesOf,
  EMPTY_BODY,
  finderOf,
  foreseer,
  inverse,
  replaceIn,
  replaceInBody,
  sameValue,
  formatChange,
  shifted,
  spreadOver,
  valuesBack,
  type BatchChange,
  type BatchContext,
  type BatchItem,
  type BodyNode,
  type FormatField,
  type FormatValue,
  type Outcome,
  type Post,
  type PostEdit,
  type Replacing,
} from '../index.js';
import { aContext, aPost, published } from '../post/testing.js';

const hours: FormatField[] = [
  { key: 'hours', label: 'Hours', kind: 'number', required: false, hint: '', choices: [] },
  { key: 'tools', label: 'Tools', kind: 'line', required: false, hint: '', choices: [] },
  { key: 'minutes', label: 'Minutes', kind: 'minutes', required: false, hint: '', choices: [] },
  { key: 'steps', label: 'Steps', kind: 'lines', required: false, hint: '', choices: [] },
];
const scene: BatchContext = {
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
const post = aPost;
const names = {
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

function foresee(changes: BatchChange[], of = post(), at = scene) {
  const made = foreseer(changes, at);
  if (!made.ok) throw new Error(made.sentence);
  return made.foresee(of);
}
/** What changes do, and what they say of it. */
const item = (changes: BatchChange[], of = post(), at = scene) => {
  const outcome = foresee(changes, of, at);
  return outcome.state === 'changes' ? { state: outcome.state, ...outcome.item } : outcome;
};
const written = (of: Post, changes: BatchChange[], at = scene): Post => {
  const outcome = foresee(changes, of, at);
  return outcome.state === 'changes' ? outcome.edited.post : of;
};
const revert = (of: Post, back: BatchItem, force = false, at = scene): Outcome =>
  backward(at)(of, { kind: 'revert', item: back, force });

const anyChange: fc.Arbitrary<BatchChange> = fc.oneof(
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
    kind: fc.constant('hand over' as const),
    from: fc.constantFrom(7, 8),
    to: fc.constantFrom(8, 9),
  }),
  fc.constant({ kind: 'stage', to: 'scheduled' } as const),
  fc.constant({ kind: 'stage', to: 'drafting', note: 'Again.' } as const),
  fc.constant({ kind: 'bin' } as const),
);
const anyPost = fc
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

describe('a batch', () => {
  it('says what changes, what is so already, and what is refused', () => {
    expect(
      item([
        { kind: 'byline', to: 2 },
        { kind: 'tags', gain: [2], lose: [] },
      ]),
    ).toEqual({
      state: 'changes',
      before: { bylineId: 1, tagIds: [1] },
      after: { bylineId: 2, tagIds: [1, 2] },
    });
    expect(
      item([
        { kind: 'byline', to: 1 },
        { kind: 'tags', gain: [1], lose: [2] },
      ]),
    ).toEqual({ state: 'same' });
    expect(
      item([
        { kind: 'byline', to: 2 },
        { kind: 'byline', to: 1 },
      ]),
    ).toEqual({ state: 'same' });
    expect(item([{ kind: 'byline', to: null }], post({ stage: 'published' }))).toEqual({
      state: 'refused',
      sentence: 'A published post keeps its byline.',
    });
    expect(item([{ kind: 'byline', to: 2 }], post({ binned: true }))).toMatchObject({ state: 'refused' });
    expect(item([{ kind: 'second category', to: 1 }])).toMatchObject({ state: 'refused' });
    expect(item([{ kind: 'category', to: 2 }], post({ secondCategoryId: 2 }))).toMatchObject({
      after: { categoryId: 2, secondCategoryId: null },
    });
  });

  it('is an editor’s within the categories given to them, and nobody else’s', () => {
    const editor = { ...scene, actor: { id: 5, role: 'editor' as const, categories: [1] } };
    expect(item([{ kind: 'comments', to: false }], post(), editor).state).toBe('changes');
    expect(item([{ kind: 'comments', to: false }], post({ categoryId: 2 }), editor)).toEqual({
      state: 'refused',
      sentence: 'It is in no category that you edit.',
    });
    expect(item([{ kind: 'category', to: 2 }], post(), editor)).toMatchObject({ state: 'refused' });
    expect(
      item([{ kind: 'comments', to: false }], post(), {
        ...scene,
        actor: { id: 1, role: 'contributor', categories: [] },
      }).state,
    ).toBe('refused');
  });

  it('moves stages by the one table', () => {
    expect(item([{ kind: 'stage', to: 'scheduled' }])).toEqual({
      state: 'changes',
      before: { stage: 'cleared' },
      after: { stage: 'scheduled' },
    });
    // The planned date stays when a post is unscheduled.
    expect(item([{ kind: 'stage', to: 'cleared' }], post({ stage: 'scheduled' }))).toMatchObject({
      before: { stage: 'scheduled' },
      after: { stage: 'cleared' },
    });
    expect(item([{ kind: 'stage', to: 'cleared' }], post({ stage: 'scheduled' }))).not.toHaveProperty(
      'after.run',
    );
    expect(item([{ kind: 'stage', to: 'published' }], post({ stage: 'scheduled' }))).toMatchObject({
      state: 'refused',
    });
    expect(
      item([{ kind: 'stage', to: 'scheduled' }], post(), {
        ...scene,
        blocking: () => ['1 link leads nowhere'],
      }),
    ).toEqual({ state: 'refused', sentence: 'The checks hold it back: 1 link leads nowhere.' });
    expect(item([{ kind: 'stage', to: 'drafting' }])).toEqual({
      state: 'refused',
      sentence: 'Say in a note what should change.',
    });
    expect(
      item(
        [{ kind: 'stage', to: 'scheduled' }],
        post({ run: { local: '2026-11-01T08:00:00', zone: 'Europe/London', at: '2026-11-01T08:00:00Z' } }),
      ),
    ).toMatchObject({ state: 'refused' });
  });

  it('shifts run times by the clock on the wall, and refuses times that are not there', () => {
    // Europe/London puts its clocks forward on 28 March 2027 at 01:00 (common practice, no published source
    // needed: IANA tzdata).
    const at = (local: string, stage: 'cleared' | 'published' = 'cleared') =>
      post({ stage, run: { local, zone: 'Europe/London', at: `${local}Z` } });
    expect(item([{ kind: 'shift', days: 7, minutes: 0 }], at('2027-03-25T08:00:00'))).toMatchObject({
      after: { run: { local: '2027-04-01T08:00:00', at: '2027-04-01T07:00:00Z' } },
    });
    expect(item([{ kind: 'shift', days: 1, minutes: 0 }], at('2027-03-27T01:30:00'))).toEqual({
      state: 'refused',
      sentence: 'It would run at a time that the clocks leave out.',
    });
    expect(
      item([{ kind: 'shift', days: 60, minutes: 0 }], at('2026-11-01T08:00:00', 'published')),
    ).toMatchObject({ state: 'refused' });
    expect(item([{ kind: 'shift', days: 1, minutes: 0 }], post({ run: null }))).toMatchObject({
      state: 'refused',
    });
    expect(shifted('2024-02-28T23:50:00', { days: 0, minutes: 15 })).toBe('2024-02-29T00:05:00');
  });

  it('shifts no scheduled post into the past', () => {
    const scheduled = post({ stage: 'scheduled', scheduledAt: '2026-11-24T09:00:00Z' });
    expect(item([{ kind: 'shift', days: -30, minutes: 0 }], scheduled)).toEqual({
      state: 'refused',
      sentence: 'Its run time would lie in the past, and it would go out at once.',
    });
    expect(item([{ kind: 'shift', days: -1, minutes: 0 }], scheduled)).toMatchObject({
      after: { run: { local: '2026-11-30T08:00:00' } },
    });
  });

  it('spreads posts over the open slots of their categories, in order', () => {
    const open = [
      { local: '2026-12-08T08:00:00', categoryId: 1 },
      { local: '2026-12-01T08:00:00', categoryId: 1 },
      { local: '2026-12-02T08:00:00', categoryId: 2 },
    ];
    const places = spreadOver(
      [
        { id: 1, categoryId: 1 },
        { id: 2, categoryId: 2 },
        { id: 3, categoryId: 1 },
        { id: 4, categoryId: 1 },
        { id: 5, categoryId: null },
      ],
      [...open, { local: '2026-11-25T08:00:00', categoryId: 1 }],
      // By then the slot of that morning has passed.
      '2026-11-25T09:00:00',
    );
    expect([...places]).toEqual([
      [1, '2026-12-01T08:00:00'],
      [2, '2026-12-02T08:00:00'],
      [3, '2026-12-08T08:00:00'],
    ]);
    expect(
      item([{ kind: 'spread', from: '2026-11-26' }], post({ id: 3 }), { ...scene, spread: places }),
    ).toMatchObject({ after: { run: { local: '2026-12-08T08:00:00' } } });
    expect(
      item([{ kind: 'spread', from: '2026-11-26' }], post({ id: 4 }), { ...scene, spread: places }),
    ).toMatchObject({ state: 'refused' });
  });

  it('fills fields of the post’s own format only, with values that fit', () => {
    const of = post({ formatValues: { tools: 'a spanner' }, formatId: 7 });
    expect(item([{ kind: 'format field', formatId: 7, key: 'hours', to: 3 }], of)).toMatchObject({
      after: { formatValues: { tools: 'a spanner', hours: 3 } },
    });
    expect(item([{ kind: 'format field', formatId: 7, key: 'hours', to: 'many' }], of)).toMatchObject({
      state: 'refused',
    });
    expect(item([{ kind: 'format field', formatId: 7, key: 'hours', to: 3 }])).toEqual({
      state: 'refused',
      sentence: 'It has another format.',
    });
  });

  it('merges tags and categories where they are, and leaves the others', () => {
    expect(item([{ kind: 'tags merge', from: [1, 2], into: 3 }], post({ tagIds: [1, 2, 5] }))).toEqual({
      state: 'changes',
      before: { tagIds: [1, 2, 5] },
      after: { tagIds: [3, 5] },
    });
    expect(item([{ kind: 'tags merge', from: [2], into: 3 }])).toEqual({ state: 'same' });
    expect(
      item([{ kind: 'categories merge', from: [1], into: 2 }], post({ secondCategoryId: 2 })),
    ).toMatchObject({ after: { categoryId: 2, secondCategoryId: null } });
    expect(item([{ kind: 'categories merge', from: [2], into: 1 }], post({ secondCategoryId: 2 }))).toEqual({
      state: 'changes',
      before: { secondCategoryId: 2 },
      after: { secondCategoryId: null },
    });
    expect(item([{ kind: 'categories merge', from: [3], into: 2 }])).toEqual({ state: 'same' });
    expect(formatChange({ kind: 'categories merge', from: [1], into: 2 }, names)).toBe(
      'Engine room merges into Galley',
    );
  });

  it('asks for a lighter lead picture where it is too heavy', () => {
    // 300–500 kB is right for a page, stock files come at about 5 MB (common practice, no published source).
    expect(item([{ kind: 'lighten', max: 400_000 }], post({ leadPicture: { media: 9, alt: '' } }))).toEqual({
      state: 'changes',
      before: { leadPicture: { media: 9, alt: '' } },
      after: { leadPicture: { media: 9, alt: '', maxBytes: 400_000 } },
    });
    expect(item([{ kind: 'lighten', max: 400_000 }], post({ leadPicture: { media: 10, alt: '' } }))).toEqual({
      state: 'same',
    });
    expect(item([{ kind: 'lighten', max: 400_000 }])).toEqual({ state: 'same' });
    expect(
      differencesOf(
        {
          before: { leadPicture: { media: 9, alt: '' } },
          after: { leadPicture: { media: 9, alt: '', maxBytes: 400_000 } },
        },
        names,
      ),
    ).toEqual([{ field: 'leadPicture', name: 'lead picture', was: '4.8 MB', becomes: 'at most 400 kB' }]);
  });

  it('applied and inverted is as it was', () => {
    fc.assert(
      fc.property(anyPost, fc.array(anyChange, { minLength: 1, maxLength: 4 }), (of, changes) => {
        const outcome = foresee(changes, of);
        if (outcome.state !== 'changes') return;
        const after = outcome.edited.post;
        const fields = (p: Post) => Object.fromEntries(BATCH_FIELDS.map((f) => [f, p[f]]));
        expect(fields({ ...after, ...inverse(outcome.item).after })).toEqual(fields(of));
        const back = valuesBack(after, { item: outcome.item, force: false });
        expect(back.since).toEqual([]);
        expect(fields({ ...after, ...back.values })).toEqual(fields(of));
      }),
      { numRuns: 500 },
    );
  });

  it('taken back restores every field or says why not', () => {
    fc.assert(
      fc.property(anyPost, fc.array(anyChange, { minLength: 1, maxLength: 4 }), (of, changes) => {
        const outcome = foresee(changes, of);
        if (outcome.state !== 'changes') return;
        const back = revert(outcome.edited.post, outcome.item);
        if (back.state === 'refused') expect(back.sentence).toMatch(/\.$/);
        else
          for (const field of BATCH_FIELDS)
            expect(back.state === 'changes' ? back.edited.post[field] : of[field]).toEqual(of[field]);
      }),
      { numRuns: 500 },
    );
  });

  it('that is independent of another may come before or after it', () => {
    const touches: Record<BatchChange['kind'], string> = {
      byline: 'byline',
      category: 'category',
      'second category': 'category',
      tags: 'tags',
      'tags become': 'tags',
      'tags merge': 'tags',
      'categories merge': 'category',
      access: 'access',
      comments: 'comments',
      spotlight: 'spotlight',
      campaign: 'campaign',
      'format field': 'format',
      replace: 'words',
      lighten: 'lead',
      shift: 'run',
      spread: 'run',
      stage: 'run',
      plan: 'all',
      'hand over': 'all',
      bin: 'all',
    };
    // What a move to a stage demands or asks permission by; such changes are not independent of it.
    const demanded = new Set(['byline', 'category', 'words', 'run']);
    fc.assert(
      fc.property(anyPost, anyChange, anyChange, (of, a, b) => {
        const [one, two] = [touches[a.kind], touches[b.kind]];
        if (
          one === two ||
          one === 'all' ||
          two === 'all' ||
          (a.kind === 'stage' && demanded.has(two)) ||
          (b.kind === 'stage' && demanded.has(one))
        )
          return;
        expect(written(written(of, [a]), [b])).toEqual(written(written(of, [b]), [a]));
      }),
      { numRuns: 500 },
    );
  });

  it('taken back never loses a later edit', () => {
    fc.assert(
      fc.property(anyPost, anyChange, anyChange, (of, change, later) => {
        const outcome = foresee([change], of);
        if (outcome.state !== 'changes') return;
        const stands = outcome.edited.post;
        const edited = written(stands, [later]);
        const back = { ...edited, ...valuesBack(edited, { item: outcome.item, force: false }).values };
        for (const field of BATCH_FIELDS) {
          if (field === 'tagIds') {
            const gainedSince = edited.tagIds.filter(
              (t) => !stands.tagIds.includes(t) && !(outcome.item.before.tagIds ?? []).includes(t),
            );
            expect(gainedSince.every((t) => back.tagIds.includes(t))).toBe(true);
          } else if (!sameValue(edited[field], stands[field])) expect(back[field]).toEqual(edited[field]);
        }
      }),
      { numRuns: 500 },
    );
  });

  it('taken back by force takes what was changed since along, and names it', () => {
    const done = { before: { bylineId: 1, comments: true }, after: { bylineId: 2, comments: false } };
    expect(valuesBack(post({ bylineId: 3, comments: false }), { item: done, force: false })).toEqual({
      values: { comments: true },
      since: ['bylineId'],
    });
    expect(valuesBack(post({ bylineId: 3, comments: false }), { item: done, force: true })).toEqual({
      values: { bylineId: 1, comments: true },
      since: ['bylineId'],
    });
    expect(valuesBack(post({ bylineId: 1, comments: true }), { item: done, force: false })).toEqual({
      values: {},
      since: [],
    });
  });

  it('taken back by force makes no move that the stage table does not have', () => {
    const cleared = { before: { stage: 'in review' as const }, after: { stage: 'cleared' as const } };
    expect(revert(post(), cleared)).toMatchObject({
      state: 'changes',
      item: { after: { stage: 'in review' } },
    });
    expect(revert(published(), cleared)).toEqual({ state: 'same' });
    expect(revert(published(), cleared, true)).toEqual({
      state: 'refused',
      sentence: 'A post that is published cannot become in review.',
    });
  });

  it('taken back looks at rules and at what is there, post by post', () => {
    const byline = { before: { bylineId: null }, after: { bylineId: 1 } };
    expect(revert(post(), byline).state).toBe('changes');
    expect(revert(published(), byline)).toEqual({
      state: 'refused',
      sentence: 'A published post keeps its byline.',
    });
    const tags = { before: { tagIds: [5] }, after: { tagIds: [1] } };
    const gone = { ...scene, has: (kind: string) => kind !== 'tag' };
    expect(revert(post(), tags, false, gone)).toEqual({
      state: 'refused',
      sentence: 'One of those tags is not on this blog.',
    });
    const slug = { before: { slug: 'taken' }, after: { slug: 'stern-gland-weeps' } };
    expect(revert(post(), slug)).toMatchObject({ sentence: '/taken is the address of “Another”.' });
    const scheduled = {
      before: { stage: 'scheduled' as const, run: post().run },
      after: { stage: 'cleared' as const, run: null },
    };
    const late = { ...scene, now: '2026-12-02T09:00:00Z' };
    expect(revert(post({ run: null }), scheduled)).toMatchObject({
      state: 'changes',
      edited: { post: { stage: 'scheduled', scheduledAt: scene.now } },
    });
    expect(revert(post({ run: null }), scheduled, false, late)).toMatchObject({
      state: 'refused',
      sentence: expect.stringMatching(/in the past, and it would go out at once|that has passed/),
    });
  });

  it('fills minutes and lists of a format, as the desk does', () => {
    const of = post({ formatId: 7 });
    const fill = (key: string, to: FormatValue) => item([{ kind: 'format field', formatId: 7, key, to }], of);
    expect(fill('minutes', 90)).toMatchObject({ after: { formatValues: { minutes: 90 } } });
    expect(fill('steps', ['Drain it', 'Dry it'])).toMatchObject({
      after: { formatValues: { steps: ['Drain it', 'Dry it'] } },
    });
    expect(fill('minutes', 'ninety')).toMatchObject({ state: 'refused' });
    expect(fill('steps', 'Drain it')).toMatchObject({ state: 'refused' });
  });

  it('gives an address that one post takes to none after it, and keeps none for a post that is refused', () => {
    const drafts = [1, 2, 3].map((id) =>
      post({
        id,
        title: 'Frost on the top gate beams',
        slug: null,
        words: id === 1 ? 0 : 300,
        stage: 'in review',
      }),
    );
    const made = foreseer([{ kind: 'stage', to: 'cleared' }], scene);
    if (!made.ok) throw new Error(made.sentence);
    const outcomes = drafts.map(made.foresee);
    expect(outcomes[0]).toEqual({ state: 'refused', sentence: 'It needs some text.' });
    expect(outcomes.slice(1)).toMatchObject([
      { item: { after: { slug: 'frost-top-gate-beams' } } },
      { item: { after: { slug: expect.not.stringMatching(/^frost-top-gate-beams$/) } } },
    ]);
  });

  it('of one does what the single change does', () => {
    const single = (change: BatchChange, of: Post): PostEdit | null => {
      if (change.kind === 'byline') return { kind: 'set', values: { bylineId: change.to } };
      if (change.kind === 'category') return { kind: 'set', values: { categoryId: change.to } };
      if (change.kind === 'second category') return { kind: 'set', values: { secondCategoryId: change.to } };
      if (change.kind === 'tags become') return { kind: 'set', values: { tagIds: change.to } };
      if (change.kind === 'access') return { kind: 'set', values: { access: change.to } };
      if (change.kind === 'comments') return { kind: 'set', values: { comments: change.to } };
      if (change.kind === 'campaign') return { kind: 'set', values: { campaign: change.to } };
      if (change.kind === 'spotlight') return { kind: 'set', values: { spotlight: change.to } };
      if (change.kind === 'stage' && change.to !== of.stage)
        return { kind: 'move', to: change.to, note: change.note };
      return change.kind === 'bin' ? { kind: 'bin' } : null;
    };
    fc.assert(
      fc.property(anyPost, anyChange, (of, change) => {
        const edit = single(change, of);
        if (!edit) return;
        const [many, one] = [foresee([change], of), applyEdit(of, edit, scene)];
        if (!one.ok) expect(many).toEqual({ state: 'refused', sentence: one.sentence });
        else if (one.changed.length === 0) expect(many).toEqual({ state: 'same' });
        else expect(many).toMatchObject({ state: 'changes', edited: one });
      }),
      { numRuns: 1000 },
    );
  });

  it('says itself in words', () => {
    expect(formatChange({ kind: 'byline', to: 2 }, names)).toBe('Byline becomes Tobias Orme');
    expect(formatChange({ kind: 'tags', gain: [1, 2], lose: [] }, names)).toBe('Tags gain weirs and stoves');
    expect(formatChange({ kind: 'tags', gain: [1], lose: [2] }, names)).toBe(
      'Tags gain weirs and lose stoves',
    );
    expect(formatChange({ kind: 'shift', days: -1, minutes: 0 }, names)).toBe('Run times move 1 day earlier');
    expect(
      differencesOf({ before: { bylineId: 1, tagIds: [1] }, after: { bylineId: 2, tagIds: [2] } }, names),
    ).toEqual([
      { field: 'tagIds', name: 'tags', was: '− weirs', becomes: '+ stoves' },
      { field: 'bylineId', name: 'byline', was: 'Mara Winslow', becomes: 'Tobias Orme' },
    ]);
  });
});

describe('find and replace', () => {
  const finder = (r: Partial<Replacing>) => {
    const a = finderOf({ find: '', with: '', pattern: false, capitals: false, ...r });
    if (!a.ok) throw new Error(a.sentence);
    return a.find;
  };
  const text = (t: string, ...marks: string[]): BodyNode => ({
    type: 'text',
    text: t,
    ...(marks.length > 0 ? { marks: marks.map((type) => ({ type })) } : {}),
  });
  const doc = (...content: BodyNode[]): BodyNode => ({
    type: 'doc',
    content: [{ type: 'paragraph', content }],
  });

  it('takes signs as they are when it is no pattern', () => {
    expect(replaceIn('a.b (a.b) aXb', finder({ find: 'a.b', with: '$1' }))).toBe('$1 ($1) aXb');
    expect(replaceIn('Straße STRASSE straße', finder({ find: 'straße', with: 'road' }))).toBe(
      'road STRASSE road',
    );
    expect(replaceIn('Paddle paddle', finder({ find: 'paddle', with: 'winch', capitals: true }))).toBe(
      'Paddle winch',
    );
    fc.assert(
      fc.property(
        fc.string({ unit: 'grapheme', maxLength: 60 }),
        fc.string({ unit: 'grapheme', minLength: 1, maxLength: 4 }),
        (whole, find) => {
          expect(replaceIn(whole, finder({ find, with: '*', capitals: true }))).toBe(
            whole.split(find).join('*'),
          );
        },
      ),
    );
  });

  it('puts groups of a pattern in their place', () => {
    expect(replaceIn('12 inch and 7 inch', finder({ find: '(\\d+) inch', with: '$1″', pattern: true }))).toBe(
      '12″ and 7″',
    );
    expect(finderOf({ find: '(a', with: '', pattern: true, capitals: false })).toMatchObject({ ok: false });
    expect(finderOf({ find: 'a', with: '$1', pattern: true, capitals: false })).toMatchObject({
      ok: false,
      sentence: 'The pattern has no group, so $1 stands for nothing.',
    });
    expect(finderOf({ find: '(a)\\1', with: '', pattern: true, capitals: false })).toMatchObject({
      ok: false,
    });
    expect(finderOf({ find: '', with: '', pattern: false, capitals: false })).toMatchObject({ ok: false });
    expect(replaceIn('abc', finder({ find: 'x*', with: '-', pattern: true }))).toBe('abc');
  });

  // Patterns on which backtracking engines take exponential or steep polynomial time: the list of OWASP,
  // “Regular expression Denial of Service - ReDoS” (from memory).
  it.each(['^(a+)+$', '^([a-zA-Z]+)*$', '^(a|aa)+$', '^(a|a?)+$', '^(.*a){20}$', '(x+x+)+y'])(
    'ends for %s',
    (find) => {
      const long = `${'a'.repeat(2000)}!`;
      expect(replaceIn(long, finder({ find, with: '', pattern: true }))).toHaveLength(long.length);
    },
  );

  it('keeps the build and the style of a text, and finds words across styles', () => {
    const body = doc(
      text('The pad'),
      text('dle', 'bold'),
      text(' and the '),
      text('paddle', 'italic'),
      text('.'),
    );
    expect(replaceInBody(body, finder({ find: 'paddle', with: 'winch' }))).toEqual(
      doc(text('The winch'), text(' and the '), text('winch', 'italic'), text('.')),
    );
    expect(replaceInBody(body, finder({ find: 'oar', with: 'x' }))).toBe(body);
    expect(replaceInBody(EMPTY_BODY, finder({ find: 'a', with: 'b' }))).toBe(EMPTY_BODY);
  });

  it('changes a text as it would change its words', () => {
    const runs = fc.array(
      fc.record({
        t: fc.string({ unit: fc.constantFrom('a', 'b', ' '), minLength: 1, maxLength: 6 }),
        bold: fc.boolean(),
      }),
      { minLength: 1, maxLength: 6 },
    );
    fc.assert(
      fc.property(
        runs,
        fc.constantFrom('a', 'ab', 'ba', 'aa'),
        fc.constantFrom('', 'X', 'long'),
        (parts, find, put) => {
          const body = doc(...parts.map((p) => (p.bold ? text(p.t, 'bold') : text(p.t))));
          const f = finder({ find, with: put, capitals: true });
          const whole = parts.map((p) => p.t).join('');
          const read = (b: BodyNode) => (b.content![0]!.content ?? []).map((n) => n.text).join('');
          expect(read(replaceInBody(body, f))).toBe(replaceIn(whole, f));
          expect(bodyText(replaceInBody(body, f)).trim()).toBe(replaceIn(whole, f).trim());
        },
      ),
    );
  });
});

it('values are the same whatever the order of their keys', () => {
  expect(sameValue({ a: 1, b: [1, 2] }, { b: [1, 2], a: 1 })).toBe(true);
  expect(sameValue([1, 2], [2, 1])).toBe(false);
  expect(sameValue(null, undefined)).toBe(true);
  expect(sameValue({}, [])).toBe(false);
});
