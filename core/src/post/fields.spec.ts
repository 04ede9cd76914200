import { POST_FIELDS, POST_FIELD_NAMES, fieldLabels, type PostField } from '../index.js';

/**
 * Written by hand: c where checks look, b where batches change, r where readers see it with an update, o at
 * once, l on cards and in lists, y where a copy takes it along; then what one must be allowed to set it by
 * hand.
 */
const TABLE: Record<PostField, [where: string, set: 'write' | 'details' | 'plan' | null]> = {
  title: ['cbrl', 'write'],
  thought: ['l', 'write'],
  excerpt: ['cbrly', 'write'],
  subtitle: ['cry', 'write'],
  slug: ['cbrl', 'details'],
  body: ['cbry', null],
  suggested: ['b', null],
  words: ['crly', null],
  categoryId: ['cbrly', 'details'],
  secondCategoryId: ['bry', 'details'],
  tagIds: ['cbry', 'write'],
  bylineId: ['brl', 'details'],
  coauthorIds: ['br', 'details'],
  editorId: ['b', 'details'],
  proofreaderId: ['b', 'details'],
  proofreaderWrites: ['', 'details'],
  access: ['bo', 'details'],
  readingPassword: ['o', 'details'],
  leadPicture: ['cbry', 'write'],
  sharePicture: ['cry', 'write'],
  formatId: ['cry', 'write'],
  formatValues: ['cbry', 'write'],
  inSearch: ['o', 'details'],
  mailAtRelease: ['', 'details'],
  searchTitle: ['cry', 'write'],
  searchDescription: ['cry', 'write'],
  sourceUrl: ['r', 'write'],
  titleLinks: ['r', 'write'],
  place: ['ry', 'write'],
  comments: ['boy', 'details'],
  commentCall: ['ry', 'details'],
  campaign: ['b', 'details'],
  spotlight: ['bo', 'details'],
  brief: ['cbl', 'details'],
  dateConstraint: ['l', 'details'],
  rating: ['l', 'details'],
  run: ['bol', 'plan'],
  stage: ['bol', null],
  stageSince: ['', null],
  scheduledAt: ['', null],
  releasedAt: ['ol', null],
  readersVersion: ['o', null],
  binned: ['bo', null],
};

describe('the registry of a post’s fields', () => {
  it.each(POST_FIELD_NAMES)(
    'has %s in or deliberately out of checks, batches, pages, cards and copies',
    (field) => {
      const spec = POST_FIELDS[field];
      const where = [
        spec.checks ? 'c' : '',
        spec.batch ? 'b' : '',
        { true: 'r', 'at once': 'o', false: '' }[`${spec.readers}`],
        spec.card ? 'l' : '',
        spec.copied ? 'y' : '',
      ].join('');
      expect([where, spec.set]).toEqual(TABLE[field]);
    },
  );

  it('lists every field of the table, each with a name of its own', () => {
    expect([...POST_FIELD_NAMES].sort()).toEqual(Object.keys(TABLE).sort());
    const labels = POST_FIELD_NAMES.map((f) => POST_FIELDS[f].label);
    expect(new Set(labels).size).toBe(labels.length);
  });

  it('names fields for people, without those that only follow from others', () => {
    expect(fieldLabels(['title', 'stage', 'stageSince', 'nothing'])).toEqual(['title', 'stage']);
  });
});
