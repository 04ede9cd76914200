import { EMPTY_BODY, type BodyNode } from '../body/schema.js';
import { NO_DATE_CONSTRAINT } from '../planning/date-constraint.js';
import type { EditContext } from './context.js';
import { TEXT_FIELD_NAMES, type TextFieldName } from './fields.js';
import type { Post } from './values.js';

export const TEXT: BodyNode = {
  type: 'doc',
  content: [
    { type: 'paragraph', content: [{ type: 'text', text: 'Count the drops before the pump does.' }] },
  ],
};

/** Every field of text, with nothing in it. */
export const EMPTY_TEXTS = Object.fromEntries(TEXT_FIELD_NAMES.map((f) => [f, ''])) as Record<
  TextFieldName,
  string
>;

/** A cleared post of category 1, written by person 1, with a run time to come. */
export function aPost(values: Partial<Post> = {}): Post {
  return {
    ...EMPTY_TEXTS,
    id: 11,
    version: 3,
    createdById: 1,
    title: 'A stern gland that weeps',
    excerpt: 'Count the drops.',
    slug: 'stern-gland-weeps',
    body: TEXT,
    suggested: null,
    words: 400,
    categoryId: 1,
    secondCategoryId: null,
    tagIds: [1],
    bylineId: 1,
    coauthorIds: [],
    editorId: null,
    proofreaderId: null,
    proofreaderWrites: false,
    access: 'everyone',
    leadPicture: null,
    sharePicture: null,
    formatId: null,
    formatValues: {},
    inSearch: true,
    mailAtRelease: false,
    sourceUrl: '',
    titleLinks: false,
    comments: true,
    spotlight: null,
    brief: { angle: '', length: null, copyDate: null },
    dateConstraint: NO_DATE_CONSTRAINT,
    rating: null,
    run: { local: '2026-12-01T08:00:00', zone: 'Europe/London', at: '2026-12-01T08:00:00Z' },
    stage: 'cleared',
    stageSince: '2026-11-20T09:00:00Z',
    scheduledAt: null,
    releasedAt: null,
    readersVersion: null,
    binned: false,
    ...values,
  };
}

/** A pitch with nothing but its title. */
export const aPitch = (values: Partial<Post> = {}): Post =>
  aPost({
    stage: 'pitch',
    run: null,
    slug: null,
    excerpt: '',
    body: EMPTY_BODY,
    words: 0,
    tagIds: [],
    bylineId: null,
    ...values,
  });

/** A published post. */
export const published = (values: Partial<Post> = {}): Post =>
  aPost({
    stage: 'published',
    run: { local: '2026-11-02T08:00:00', zone: 'Europe/London', at: '2026-11-02T08:00:00Z' },
    scheduledAt: '2026-10-30T10:00:00Z',
    releasedAt: '2026-11-02T08:00:00Z',
    ...values,
  });

/** A blog on which everything that is asked about is there, seen by its managing editor on 25 November 2026. */
export function aContext(values: Partial<EditContext> = {}): EditContext {
  return {
    actor: { id: 1, role: 'managing editor', categories: [] },
    now: '2026-11-25T09:00:00Z',
    zone: 'Europe/London',
    has: () => true,
    hasFile: () => true,
    format: () => undefined,
    categoryName: () => 'Engine room',
    ownerOf: () => undefined,
    blocking: () => [],
    opened: () => false,
    pastRun: 'goes out',
    ...values,
  };
}
