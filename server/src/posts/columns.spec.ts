import { POST_FIELD_NAMES } from '@keyroster/core';
import { Newsroom } from '../testing/newsroom.js';
import { COLUMN_FIELDS, columnsOf } from './columns.js';

/** Columns of a post that are no field of it, by hand: identity, origin, what is measured, what follows. */
const NO_FIELD = [
  'id',
  'blog_id',
  'version',
  'created_by',
  'created_at',
  'updated_at',
  'copied_from_id',
  'body_text',
  'search',
  'check_blocks',
  'check_warns',
  'check_failing',
  'alike_id',
  'alike_share',
  'measured_version',
  'related_version',
  'binned_at',
  'binned_by',
  'first_tag_id',
  'last_tag_id',
];

describe('the columns of posts', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());

  it('keep every field, and nothing that is neither a field nor known to be none', async () => {
    const kept = [...COLUMN_FIELDS, 'tagIds', 'coauthorIds', 'binned'];
    expect(kept.sort()).toEqual([...POST_FIELD_NAMES].sort());
    const columns = COLUMN_FIELDS.flatMap(columnsOf);
    const rows = (await room
      .db('information_schema.columns')
      .where({ table_schema: 'public', table_name: 'all_posts' })
      .select('column_name as name', 'udt_name as type')) as { name: string; type: string }[];
    const types: Record<string, string> = { int2: 'int', int4: 'int', bool: 'boolean', float4: 'real' };
    const inDatabase = rows.filter((r) => !NO_FIELD.includes(r.name));
    expect(inDatabase.map((r) => [r.name, types[r.type] ?? r.type]).sort()).toEqual(columns.sort());
    expect(rows.length - inDatabase.length).toBe(NO_FIELD.length);
  });

  it('are all kept in every version', async () => {
    const { id } = await room.pitch('chief', 'Kept whole');
    await room.change('chief', id, { campaign: 'Winter' });
    const versions = (await room
      .db('post_versions')
      .where({ post_id: id })
      .orderBy('version')
      .select('fields', room.db.raw('body is not null as "withText"'))) as {
      fields: object;
      withText: boolean;
    }[];
    const names = COLUMN_FIELDS.filter((f) => f !== 'body' && f !== 'suggested').flatMap((f) =>
      columnsOf(f).map(([name]) => name),
    );
    for (const { fields } of versions)
      expect(Object.keys(fields).sort()).toEqual([...names, 'coauthor_ids', 'tag_ids', 'binned'].sort());
    expect(versions.map((v) => v.withText)).toEqual([true, false]);
  });
});
