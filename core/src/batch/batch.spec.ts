import fc from 'fast-check';
import {
  applyEdit,
  differencesOf,
  predictorFor,
  sameValue,
  formatChange,
  shifted,
  spreadOver,
  type BatchChange,
  type FormatValue,
  type Post,
  type PostEdit,
} from '../index.js';
import { scene, post, names, predict, item, anyChange, anyPost } from './testing.js';

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
    // What weighs exactly as much as is allowed, or is to be drawn again as such, is light enough.
    const weighed = (picture: object, max: number) =>
      item([{ kind: 'lighten', max }], post({ leadPicture: { media: 10, alt: '', ...picture } })).state;
    expect([390_000, 389_999].map((max) => weighed({}, max))).toEqual(['same', 'changes']);
    expect([200_000, 199_999].map((max) => weighed({ maxBytes: 200_000 }, max))).toEqual(['same', 'changes']);
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
    const made = predictorFor([{ kind: 'stage', to: 'cleared' }], scene);
    if (!made.ok) throw new Error(made.sentence);
    const outcomes = drafts.map(made.predict);
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
        const [many, one] = [predict([change], of), applyEdit(of, edit, scene)];
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
it('values are the same whatever the order of their keys', () => {
  expect(sameValue({ a: 1, b: [1, 2] }, { b: [1, 2], a: 1 })).toBe(true);
  expect(sameValue([1, 2], [2, 1])).toBe(false);
  expect(sameValue(null, undefined)).toBe(true);
  expect(sameValue({}, [])).toBe(false);
});
