import {
  applyEdits,
  BATCH_FIELDS,
  fieldHeading,
  fieldLabels,
  fileKey,
  FINDABLE_FIELDS,
  isDerived,
  POST_FIELD_NAMES,
  POST_FIELDS,
  REPLACE_PLACES,
  textFieldsIn,
  type BatchChange,
  type BatchChangeKind,
  type FieldSpec,
  type Post,
  type PostField,
} from '../index.js';
import { predict, scene } from '../batch/testing.js';
import { aContext, aPitch, aPost, published, TEXT } from './testing.js';

const specOf = (field: PostField): FieldSpec => POST_FIELDS[field];

/** Every field of text that a batch changes, with a word to replace. */
const PUMPS = Object.fromEntries(
  BATCH_FIELDS.filter((f) => specOf(f).kind === 'text').map((f) => [f, 'A pump']),
);

/** For every kind of change one that changes something, and the post that it does that to. */
const CHANGES: Record<BatchChangeKind, [BatchChange, Post?]> = {
  byline: [{ kind: 'byline', to: 2 }],
  category: [{ kind: 'category', to: 2 }],
  'second category': [{ kind: 'second category', to: 2 }],
  tags: [{ kind: 'tags', gain: [2], lose: [1] }],
  'tags merge': [{ kind: 'tags merge', from: [1], into: 2 }],
  'tags become': [{ kind: 'tags become', to: [2] }],
  'categories merge': [{ kind: 'categories merge', from: [1], into: 2 }],
  access: [{ kind: 'access', to: 'staff' }],
  comments: [{ kind: 'comments', to: false }],
  spotlight: [{ kind: 'spotlight', to: { from: '2026-12-01', until: '2026-12-02' } }],
  campaign: [{ kind: 'campaign', to: 'Winter' }],
  'format field': [
    { kind: 'format field', formatId: 7, key: 'hours', to: 3 },
    aPost({ formatId: 7, formatValues: {} }),
  ],
  replace: [
    {
      kind: 'replace',
      places: REPLACE_PLACES,
      find: 'pump',
      with: 'gland',
      pattern: false,
      capitals: true,
    },
    aPost({ ...PUMPS, slug: 'a-pump', body: TEXT, suggested: TEXT }),
  ],
  lighten: [{ kind: 'lighten', max: 100_000 }, aPost({ leadPicture: { media: 9, alt: '' } })],
  shift: [{ kind: 'shift', days: 1, minutes: 0 }],
  spread: [{ kind: 'spread', from: '2026-12-01' }],
  stage: [{ kind: 'stage', to: 'drafting', note: 'Again.' }],
  plan: [
    {
      kind: 'plan',
      places: [{ postId: 11, local: '2026-12-08T08:00:00', writerId: 2, copyDate: '2026-12-01' }],
    },
    aPitch({ id: 11 }),
  ],
  reassign: [
    { kind: 'reassign', from: 1, to: 2 },
    aPost({ coauthorIds: [1], editorId: 1, proofreaderId: 1 }),
  ],
  bin: [{ kind: 'bin' }],
};

describe('the registry of a post’s fields', () => {
  it('gives every field a name of its own, and every text in files a key of its own', () => {
    const labels = POST_FIELD_NAMES.map((f) => POST_FIELDS[f].label);
    expect(new Set(labels).size).toBe(labels.length);
    const keys = textFieldsIn('files').map(fileKey);
    expect(new Set(keys).size).toBe(keys.length);
  });

  it('says of no field that a place shows it which the other flags keep from there', () => {
    for (const field of textFieldsIn('under the title'))
      expect([field, specOf(field).readers]).toEqual([field, true]);
    for (const field of textFieldsIn('card')) expect([field, specOf(field).card]).toEqual([field, true]);
    for (const field of textFieldsIn('details'))
      expect([field, specOf(field).set]).not.toEqual([field, null]);
  });

  it('says only of what readers see that they find a post by it', () => {
    for (const field of FINDABLE_FIELDS) expect([field, specOf(field).readers]).not.toEqual([field, false]);
  });

  it('has batches change every field that says so, and no other', () => {
    const changed = new Set<PostField>();
    const at = { ...scene, spread: new Map([[11, '2026-12-09T08:00:00']]) };
    for (const [kind, [change, of = aPost()]] of Object.entries(CHANGES)) {
      const outcome = predict([change], of, at);
      expect([kind, outcome.state]).toEqual([kind, 'changes']);
      if (outcome.state === 'changes') for (const field of outcome.edited.changed) changed.add(field);
    }
    const byHand = [...changed].filter((f) => !isDerived(f));
    expect(byHand.sort()).toEqual([...BATCH_FIELDS].sort());
  });

  it.each(POST_FIELD_NAMES.filter((f) => ['text', 'flag'].includes(specOf(f).kind) && specOf(f).set))(
    'shows readers a change of %s as it says: with the update, at once, or never',
    (field) => {
      const before = published();
      const value = specOf(field).kind === 'flag' ? !before[field] : 'Other words';
      const answer = applyEdits(before, [{ kind: 'set', values: { [field]: value } }], aContext());
      if (!answer.ok) throw new Error(answer.sentence);
      const kinds = answer.effects.map((e) => e.kind);
      const seen = kinds.includes('readers kept') ? true : kinds.includes('pages') ? 'at once' : false;
      expect(seen).toBe(specOf(field).readers);
      expect(kinds.includes('checks')).toBe(specOf(field).checks);
    },
  );

  it('names fields for people, without those that only follow from others', () => {
    expect(fieldLabels(['title', 'stage', 'stageSince', 'nothing'])).toEqual(['title', 'stage']);
    expect([fieldHeading('searchTitle'), fileKey('searchTitle')]).toEqual(['Search title', 'search-title']);
  });
});
