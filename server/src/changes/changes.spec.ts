import {
  CHANGE_FIELDS,
  ROUTES,
  type ChangeKind,
  type ChecklistView,
  type RouteName,
  type SpecialView,
} from '@keyroster/contract';
import { FIRST_LOOK, USUAL_LIMITS, USUAL_SITE, USUAL_WEIGHTS, type Look, addDays } from '@keyroster/core';
import { Newsroom, type Who } from '../testing/newsroom.js';

type Made = { id: number; change?: object };

const SAVING = (Object.keys(ROUTES) as RouteName[]).filter((name) => ROUTES[name].saves !== undefined);
/** What changes something with an id and is versioned in another way, or decides something that cannot be overwritten. */
const OTHERWISE: Readonly<Record<string, string>> = {
  // With If-Match of its own.
  'posts.change': 'If-Match',
  'body.store': 'If-Match',
  'pieces.change': 'If-Match',
  // One decision, which is the same whoever makes it.
  'members.change': 'blocked or not',
  'notes.change': 'settled or not',
  'batches.choose': 'posts left out or not, one by one',
  'posts.open': 'a time of one’s own',
  'notes.see': 'a time of one’s own',
  'rollout.times': 'compared with the pieces that were seen',
  'versions.name': 'the name of one version',
};

let room: Newsroom;
beforeAll(async () => {
  room = await Newsroom.make();
});
afterAll(() => room.close());

const added = async (path: string, body: object, status = 201): Promise<{ id: number }> => {
  const answer = await room.call('chief', 'post', path, body);
  expect(answer.status).toBe(status);
  return answer.body as { id: number };
};
const SLOT = { weekday: 2, time: '09:00', categoryId: 1 };
let made = 0;

/** Another small number than there is. */
const other = (row: Record<string, unknown> | undefined, field: string): number =>
  (Number(row?.[field] ?? 0) % 6) + 1;

/** Something of each kind, with one change of it and, where it is removed by a body, that. */
const MAKE: Record<ChangeKind, () => Promise<Made>> = {
  slot: async () => {
    const minute = String(++made % 60).padStart(2, '0');
    await added('/api/slots', { ...SLOT, time: `09:${minute}` });
    const { id } = (await room.db('slots').orderBy('id', 'desc').first('id')) as { id: number };
    return { id, change: { ...SLOT, time: `10:${minute}` } };
  },
  absence: async () => {
    const day = addDays('2031-01-01', ++made);
    const of = await added('/api/absences', { personId: room.ids.writer, from: day, to: day, note: '' });
    return { ...of, change: { note: 'At sea' } };
  },
  tag: async () => {
    const [row] = await room
      .db('tags')
      .insert([1, 2].map((n) => ({ blog_id: 1, name: `tag ${++made} ${n}`, slug: `tag-${made}-${n}` })))
      .returning<{ id: number }[]>('id');
    return { id: row!.id, change: { name: `renamed ${made}` } };
  },
  category: async () => ({
    ...(await added('/api/categories', { name: `Category ${++made}`, hue: 3 })),
    change: { hue: 5 },
  }),
  person: async () => {
    const id = room.ids.otherEditor;
    return { id, change: { capacity: other(await rowOf('person', id), 'capacity') } };
  },
  profile: () => Promise.resolve({ id: room.ids.otherWriter, change: { biography: `Words ${++made}` } }),
  picture: async () => ({
    ...(await room.picture('editor', `#${100_000 + ++made}`)),
    change: { caption: 'A gate' },
  }),
  subscriber: async () => {
    const [row] = await room
      .db('subscribers')
      .insert({ blog_id: 1, email: `reader${++made}@test.example`, state: 'active', how: 'import' })
      .returning<{ id: number }[]>('id');
    return { id: row!.id, change: { name: 'Ann' } };
  },
  template: async () => ({
    ...(await added('/api/templates', { name: `Template ${++made}`, text: 'Begin here.' })),
    change: { text: 'Begin there.' },
  }),
  outlet: async () => ({
    ...(await added('/api/outlets', {
      name: `Outlet ${++made}`,
      kind: 'short-post network',
      protocol: 'webhook',
      address: 'https://outlet.example/in',
      settings: {},
      limits: USUAL_LIMITS['short-post network'],
      voice: '',
      knowsKeys: false,
    })),
    change: { voice: 'plain' },
  }),
  format: async () => ({
    ...(await added('/api/formats', { name: `Format ${++made}`, hint: '', fields: [], starterText: '' })),
    change: { hint: 'Short' },
  }),
  checklist: async () => {
    const item = { id: null, text: 'Look', assignee: 'writer', personId: null, daysBefore: 1, holds: false };
    const list = { name: `List ${++made}`, formats: [], categories: [], items: [item] };
    const kept = (await added('/api/checklists', list)) as ChecklistView;
    return { id: kept.id, change: { ...list, items: kept.items, name: `Other ${made}` } };
  },
  chore: async () => {
    const { id } = await room.pitch('chief', `Post ${++made}`);
    const chore = { text: 'Look', assignee: 'writer', personId: null, daysBefore: 1, holds: false };
    const { body } = await room.call('chief', 'post', `/api/posts/${id}/chores`, { chore });
    return { id: (body as { id: number }[])[0]!.id, change: { text: 'Look twice' } };
  },
  campaign: async () => {
    const { id } = await added('/api/campaigns', { name: `Campaign ${++made}` });
    const change = { name: `Campaign ${made}`, about: 'Ice', from: null, until: null, outletIds: [] };
    return { id, change };
  },
  pattern: async () => {
    const outlet = await MAKE.outlet();
    const stop = {
      ...{ kind: 'short post', outletId: outlet.id, instruction: '', style: 'wedge', shape: 'square' },
      timing: { kind: 'same day', time: '12:30' },
    };
    const pattern = {
      ...{ name: `Pattern ${++made}`, stops: [stop], formatId: null, categoryId: null, campaignId: null },
      byItself: false,
    };
    await added('/api/rollout-patterns', pattern);
    const { id } = (await room.db('rollout_patterns').orderBy('id', 'desc').first('id')) as { id: number };
    return { id, change: { ...pattern, stops: [{ ...stop, instruction: 'brisk' }] } };
  },
  serial: async () => {
    const { id } = await added('/api/serials', { title: `Serial ${++made}`, intro: '' });
    const part = await room.pitch('chief', `Part ${made}`);
    const parts = [{ postId: part.id, delay: { days: 0, hours: 0, minutes: 0 } }];
    return { id, change: { title: `Serial ${made}`, intro: 'A boat', parts, accepting: false } };
  },
  special: async () => {
    const { title, ...special } = (await added('/api/specials', {
      title: `Special ${++made}`,
    })) as SpecialView;
    const { id, slug, host, look, coverId, coverAlt } = special;
    const post = await room.published(`Post ${made}`);
    await room.db('special_posts').insert({ special_id: id, post_id: post.id, position: 0 });
    const change = { title, intro: 'Ice', slug, host, look, coverId, coverAlt, postIds: [post.id] };
    return { id, change };
  },
  letter: async () => {
    const post = await room.pitch('chief', `Post ${++made}`);
    const { id } = await added('/api/letters', { postIds: [] });
    return { id, change: { subject: 'Ice', intro: '', whole: false, postIds: [post.id] } };
  },
  blog: () => Promise.resolve({ id: 1, change: { tagline: `Words ${++made}` } }),
  site: async () => {
    const { site } = (await rowOf('site', 1)) as { site: Record<string, unknown> };
    return { id: 1, change: { postsPerPage: other(site, 'postsPerPage'), menu: [] } };
  },
};
/** What is changed by a route that is not the first of its kind. */
const CHANGE: Partial<Record<RouteName, () => object | Promise<object>>> = {
  'specials.publish': () => ({ published: true }),
  'blogs.place': () => ({ host: null, path: `/place-${++made}` }),
  'site.look': async () => {
    const { look } = (await rowOf('site', 1)) as { look: Look | null };
    return { look: { ...FIRST_LOOK, look: look?.look === 'plate' ? 'margin' : 'plate' } };
  },
  'site.around': () => ({
    theme: JSON.stringify({
      ...{ name: 'Stores', home: 'https://shop.example', header: [], footer: [] },
      color: { paper: { $value: '#fffaf0' }, ink: { $value: '#2a1c0b' }, act: { $value: '#8a3d00' } },
    }),
    mount: { host: 'shop.example', path: `/journal-${++made}` },
  }),
};

const ask = async (name: RouteName, of: Made, ifMatch: string | null, who: Who = 'chief') => {
  const { method, path } = ROUTES[name];
  const asked = (await room.as(who))[method.toLowerCase() as 'patch'](path.replace(':id', String(of.id)));
  if (ifMatch === null) asked.unset('If-Match');
  else asked.set('If-Match', ifMatch);
  return method === 'DELETE' ? asked : asked.send((await CHANGE[name]?.()) ?? of.change);
};
const rowOf = async (kind: ChangeKind, id: number): Promise<Record<string, unknown> | undefined> => {
  const [table, key] = {
    slot: ['slots', 'id'],
    absence: ['absences', 'id'],
    tag: ['tags', 'id'],
    category: ['categories', 'id'],
    person: ['memberships', 'person_id'],
    profile: ['memberships', 'person_id'],
    picture: ['media', 'id'],
    subscriber: ['subscribers', 'id'],
    template: ['templates', 'id'],
    chore: ['chores', 'id'],
    outlet: ['outlets', 'id'],
    format: ['formats', 'id'],
    checklist: ['checklists', 'id'],
    campaign: ['campaigns', 'id'],
    pattern: ['rollout_patterns', 'id'],
    serial: ['serials', 'id'],
    special: ['specials', 'id'],
    letter: ['letters', 'id'],
    blog: ['blogs', 'id'],
    site: ['blogs', 'id'],
  }[kind] as [string, string];
  return room
    .db(table)
    .where(table === 'blogs' ? { id } : { [key]: id, blog_id: 1 })
    .first();
};

it('writes down every setting of the readers’ pages', () => {
  expect(CHANGE_FIELDS.site).toEqual(expect.arrayContaining(Object.keys(USUAL_SITE)));
});

it('knows how everything with an id is kept from being overwritten', () => {
  const changing = (Object.keys(ROUTES) as RouteName[]).filter(
    (name) => ['PUT', 'PATCH'].includes(ROUTES[name].method) && ROUTES[name].path.includes(':id'),
  );
  expect(changing.filter((name) => ROUTES[name].saves === undefined).sort()).toEqual(
    Object.keys(OTHERWISE).sort(),
  );
});

describe.each(SAVING)('%s', (name) => {
  const kind = ROUTES[name].saves!;

  it('asks which version was seen', async () => {
    const of = await MAKE[kind]();
    const before = await rowOf(kind, of.id);
    const answer = await ask(name, of, null);
    expect([answer.status, answer.body.code]).toEqual([428, 'version-needed']);
    expect((await ask(name, of, '"x"')).status).toBe(400);
    expect(await rowOf(kind, of.id)).toEqual(before);
  });

  it('refuses what was made of another version, with what it is now, and changes nothing', async () => {
    const of = await MAKE[kind]();
    const before = (await rowOf(kind, of.id))!;
    const answer = await ask(name, of, `"${Number(before['version']) + 1}"`);
    expect([answer.status, answer.body.code, answer.body.version]).toEqual([
      412,
      'version-conflict',
      before['version'],
    ]);
    expect(Object.keys(answer.body.current).length).toBeGreaterThan(0);
    expect(await rowOf(kind, of.id)).toEqual(before);
  });

  it('takes the present version once, and raises it', async () => {
    const of = await MAKE[kind]();
    const seen = `"${(await rowOf(kind, of.id))!['version'] as number}"`;
    expect((await ask(name, of, seen)).status).toBeLessThan(300);
    const after = await rowOf(kind, of.id);
    if (ROUTES[name].method === 'DELETE') expect(after).toBeUndefined();
    else expect(after!['version']).toBeGreaterThan(Number(seen.replaceAll('"', '')));
    expect([412, 404]).toContain((await ask(name, of, seen)).status);
  });
});

it('lets one of two through who save at once', async () => {
  const of = await MAKE.category();
  const seen = `"${(await rowOf('category', of.id))!['version'] as number}"`;
  const answers = await Promise.all(
    [1, 2, 3, 4].map((hue) => ask('categories.change', { ...of, change: { hue } }, seen)),
  );
  expect(answers.map((a) => a.status).sort()).toEqual([200, 412, 412, 412]);
});

it('says who made it what it is now, and nobody where the log does not know', async () => {
  const id = room.ids.otherWriter;
  await room.call('chief', 'patch', `/api/people/${id}`, { capacity: 2 });
  const seen = `"${(await rowOf('person', id))!['version'] as number}"`;
  await room.call('otherWriter', 'patch', `/api/people/${id}/profile`, { biography: 'Of my own' });
  const byThem = await ask('people.change', { id, change: { capacity: 3 } }, seen);
  expect([byThem.status, byThem.body.changedBy]).toEqual([412, 'otherWriter Test']);
  // A job that raises the version is nobody's.
  await room.db('memberships').where({ person_id: id, blog_id: 1 }).update({ capacity: 5 });
  const byNobody = await ask('people.change', { id, change: { capacity: 3 } }, seen);
  expect([byNobody.status, byNobody.body.changedBy]).toEqual([412, undefined]);
  expect(byNobody.body.detail).toMatch(/^Somebody else changed this person/);
});

it('raises the version of what is changed by other ways, too', async () => {
  const { id } = await MAKE.chore();
  const seen = (await rowOf('chore', id))!['version'];
  await room.db('chores').where({ id }).update({ person_id: null });
  expect((await rowOf('chore', id))!['version']).not.toBe(seen);
  const member = await rowOf('profile', room.ids.reader);
  await room.db('people').where({ id: room.ids.reader }).update({ name: 'Another Name' });
  expect((await rowOf('profile', room.ids.reader))!['version']).not.toBe(member!['version']);
});

describe('the log of changes', () => {
  const log = async (query = '') =>
    (await room.call('chief', 'get', `/api/changes${query}`)).body.changes as {
      id: number;
      kind: string;
      name: string;
      by: { id: number };
      was: object | null;
      became: object | null;
      undoable: boolean;
    }[];

  it('says who changed what, from what to what', async () => {
    const { id } = await MAKE.category();
    await room.call('chief', 'patch', `/api/categories/${id}`, { name: 'Winding holes' });
    expect((await log('?kind=category'))[0]).toMatchObject({
      kind: 'category',
      name: 'Winding holes',
      by: { id: room.ids.chief },
      was: { name: expect.stringMatching(/^Category/) },
      became: { name: 'Winding holes' },
      undoable: true,
    });
  });

  it('writes nothing where nothing changed', async () => {
    const of = await MAKE.category();
    const [last] = await log();
    expect((await room.call('chief', 'patch', `/api/categories/${of.id}`, { hue: 3 })).status).toBe(200);
    expect((await log())[0]!.id).toBe(last!.id);
  });

  it.each(SAVING.filter((name) => ROUTES[name].method !== 'DELETE'))(
    'puts back what %s did',
    async (route) => {
      const kind = ROUTES[route].saves!;
      const of = await MAKE[kind]();
      const version = (row: Record<string, unknown> | undefined) => {
        const { version: _, ...rest } = row!;
        return rest;
      };
      const before = version(await rowOf(kind, of.id));
      expect((await ask(route, of, '*')).status).toBe(200);
      expect(version(await rowOf(kind, of.id))).not.toEqual(before);
      const [change] = await log();
      expect((await room.call('chief', 'post', `/api/changes/${change!.id}/undo`)).status).toBe(204);
      expect(version(await rowOf(kind, of.id))).toEqual(before);
      // The undoing is a change like any other.
      expect((await log())[0]).toMatchObject({ kind, was: change!.became, became: change!.was });
    },
  );

  it('gives a check its usual weight back where the blog had decided nothing', async () => {
    const weights = async () => ((await rowOf('blog', 1)) as { checks: Record<string, string> }).checks;
    const [key, usual] = Object.entries(USUAL_WEIGHTS).find(([of]) => of !== 'words')!;
    const checks = { [key]: usual === 'off' ? 'warns' : 'off' };
    expect((await room.call('chief', 'patch', '/api/blog', { checks })).status).toBe(200);
    expect(await weights()).toMatchObject(checks);
    const [change] = await log('?kind=blog');
    expect((await room.call('chief', 'post', `/api/changes/${change!.id}/undo`)).status).toBe(204);
    expect((await weights())[key]).toBe(usual);
  });

  it('does not undo what somebody changed again, nor what is theirs alone', async () => {
    const { id } = await MAKE.category();
    await room.call('chief', 'patch', `/api/categories/${id}`, { hue: 7 });
    const [first] = await log();
    await room.call('chief', 'patch', `/api/categories/${id}`, { hue: 8 });
    const refused = await room.call('chief', 'post', `/api/changes/${first!.id}/undo`);
    expect([refused.status, refused.body.code]).toEqual([412, 'version-conflict']);
    // It is not offered, either.
    const shown = (await log()).filter((change) => change.id >= first!.id);
    expect(shown.map((change) => change.undoable)).toEqual([true, false]);

    const subscriber = await MAKE.subscriber();
    await room.call('chief', 'patch', `/api/subscribers/${subscriber.id}`, { left: true });
    const [left] = await log();
    expect(left!.undoable).toBe(false);
    expect((await room.call('chief', 'post', `/api/changes/${left!.id}/undo`)).status).toBe(400);
  });

  it('forgets a subscriber who is deleted', async () => {
    const { id } = await MAKE.subscriber();
    await room.call('chief', 'patch', `/api/subscribers/${id}`, { name: 'Erasure Please' });
    await room.call('chief', 'delete', `/api/subscribers/${id}`);
    const [last] = await log('?kind=subscriber');
    expect(last).toMatchObject({ name: '', was: {}, became: null });
    const kept = JSON.stringify(await room.db('changes').where({ kind: 'subscriber', of_id: id }));
    expect(kept).not.toMatch(/Erasure|@test/);
  });

  it('keeps no password', async () => {
    await room.call('chief', 'patch', `/api/people/${room.ids.reader}`, { password: 'a new long password' });
    expect(JSON.stringify(await room.db('changes'))).not.toMatch(/password/);
  });

  it('is the managing editor’s, of their own blog', async () => {
    expect((await room.call('editor', 'get', '/api/changes')).status).toBe(403);
    const [last] = await log();
    expect((await room.call('editor', 'post', `/api/changes/${last!.id}/undo`)).status).toBe(403);
  });
});
