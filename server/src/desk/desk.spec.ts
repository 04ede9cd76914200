import type { Check } from '@keyroster/core';
import type { CheckContext, PostView, TitleTrialView } from '@keyroster/contract';
import { Newsroom, doc, eventually, fromNow } from '../testing/newsroom.js';
import { addDays, checkPost } from '@keyroster/core';
import { release } from '../posts/release.js';
import { clockOf } from '../slots/clock.js';
import { likenessOf } from '../work/computing.js';
import { mostAlikeText } from './alike.js';

const LONG = Array.from(
  { length: 30 },
  (_, i) => `Close paddle number ${i} before you open gate ${i + 1} on the long flight.`,
).join(' ');

let room: Newsroom;
beforeAll(async () => {
  room = await Newsroom.make({ jobs: true });
});
afterAll(() => room.close());

describe('title trials', () => {
  it('are kept with author and time, once each', async () => {
    const post = await room.pitch('writer');
    await room.call('writer', 'post', `/api/posts/${post.id}/title-trials`, { title: 'Six turns' });
    const trials = (
      await room.call('editor', 'post', `/api/posts/${post.id}/title-trials`, { title: 'Six turns' })
    ).body as TitleTrialView[];
    expect(trials).toEqual([
      {
        id: expect.any(Number),
        title: 'Six turns',
        by: expect.objectContaining({ id: room.ids.writer }),
        at: expect.any(String),
      },
    ]);
    expect(
      (await room.call('otherWriter', 'post', `/api/posts/${post.id}/title-trials`, { title: 'Mine' }))
        .status,
    ).toBe(403);
    expect((await room.call('otherWriter', 'delete', `/api/title-trials/${trials[0]!.id}`)).status).toBe(403);
    expect((await room.call('writer', 'delete', `/api/title-trials/${trials[0]!.id}`)).status).toBe(204);
    expect((await room.call('writer', 'get', `/api/posts/${post.id}/title-trials`)).body).toEqual([]);
  });
  it('are compared with the titles of the blog, not with pitches', async () => {
    const cleared = await room.cleared('A title that is used');
    const { body } = await room.call('writer', 'get', '/api/titles');
    expect(body.titles).toContainEqual([cleared.id, 'A title that is used', false, null]);
    expect((await room.call('proofreader', 'get', '/api/titles')).status).toBe(403);
  });
  it('come with how often posts were read in their first week, once that is over', async () => {
    const { today } = await clockOf(room.db, 1);
    const out = async (title: string, days: number) => {
      const { id } = await room.scheduled(`${addDays(today, -days)}T08:00`, title);
      await release(room.db, id);
      for (const [after, reads] of [
        [0, 5],
        [6, 2],
        [7, 100],
      ] as const)
        await room.db('post_reads').insert({ post_id: id, day: addDays(today, after - days), reads });
      return id;
    };
    const [old, young] = [await out('Out for long', 30), await out('Out for a little', 6)];
    const { body } = await room.call('writer', 'get', '/api/titles');
    expect(body.titles).toContainEqual([old, 'Out for long', true, 7]);
    expect(body.titles).toContainEqual([young, 'Out for a little', true, null]);
  });
});

describe('a copied post', () => {
  it('brings its build along and is compared with its source until nothing is left', async () => {
    const source = await room.pitch('writer', 'Draining a calorifier');
    const lead = await room.picture();
    await room.write(
      'writer',
      source.id,
      doc('Close the cold feed before you open the drain.', 'Let the water out slowly and mind your feet.'),
    );
    await room.change('writer', source.id, {
      excerpt: 'Before the frost.',
      leadPicture: { media: lead.id, alt: 'a tap' },
      tags: ['winter'],
    });
    const copy = (await room.call('otherWriter', 'post', `/api/posts/${source.id}/copies`, {}))
      .body as PostView;
    expect(copy).toMatchObject({
      stage: 'pitch',
      title: source.title,
      excerpt: 'Before the frost.',
      copiedFrom: { id: source.id },
      byline: { id: room.ids.otherWriter },
      slug: null,
      tags: [{ name: 'winter' }],
    });
    const left = async () => {
      const p = await room.see('chief', copy.id);
      const context = (await room.call('otherWriter', 'get', `/api/posts/${copy.id}/checks`))
        .body as CheckContext;
      return { p, context };
    };
    const { context } = await left();
    expect(context.source).toMatchObject({ title: source.title, leadPicture: { media: lead.id } });
    await eventually(async () => (await room.see('chief', copy.id)).checks.warns > 0);
    const before = (await room.see('chief', copy.id)).checks.warns;
    await room.write(
      'otherWriter',
      copy.id,
      doc('Turn the engine over by hand, six full turns, and listen.'),
    );
    await room.change('otherWriter', copy.id, {
      title: 'Winter and the pump',
      excerpt: 'Six turns.',
      leadPicture: null,
    });
    await eventually(async () => (await room.see('chief', copy.id)).checks.warns !== before);
  });
});

describe('checks', () => {
  it('that block hold a post back by the blog’s own settings, and say what is missing', async () => {
    const post = await room.pitch('chief', 'Held back', { categoryId: 1, bylineId: room.ids.writer });
    await room.move('editor', post.id, { to: 'commissioned' });
    await room.write('writer', post.id, {
      type: 'doc',
      content: [
        {
          type: 'paragraph',
          content: [
            {
              type: 'text',
              text: 'the old lock',
              marks: [{ type: 'link', attrs: { href: '/nothing-here' } }],
            },
          ],
        },
      ],
    });
    await room.move('writer', post.id, { to: 'in review' });
    expect((await room.move('editor', post.id, { to: 'cleared' })).body).toMatchObject({
      status: 409,
      detail: 'The checks hold it back: “the old lock” leads to nothing: /nothing-here.',
    });
    expect((await room.call('editor', 'patch', '/api/blog', { checks: { links: 'warns' } })).status).toBe(
      403,
    );
    expect(
      (await room.call('chief', 'patch', '/api/blog', { checks: { links: 'warns', tags: 'blocks' } })).status,
    ).toBe(200);
    expect((await room.move('editor', post.id, { to: 'cleared' })).body.detail).toBe(
      'The checks hold it back: No tag.',
    );
    await room.call('chief', 'patch', '/api/blog', { checks: { tags: 'off' } });
    expect((await room.move('editor', post.id, { to: 'cleared' })).status).toBe(200);
    await room.call('chief', 'patch', '/api/blog', { checks: { links: 'blocks', tags: 'warns' } });
  });
  it('count links to a post that goes out before as found, and to one that goes out later as not', async () => {
    const first = await room.scheduled(fromNow(5000), 'First out of two');
    const linking = async (home: string, runIn: number) => {
      const post = await room.cleared(`Links ahead ${runIn}`);
      await room.write('editor', post.id, {
        type: 'doc',
        content: [
          {
            type: 'paragraph',
            content: [
              {
                type: 'text',
                text: 'see',
                marks: [{ type: 'link', attrs: { href: `${home}/${first.slug}#top` } }],
              },
            ],
          },
        ],
      });
      return room.move('editor', post.id, { to: 'scheduled', runAt: fromNow(runIn) });
    };
    for (const home of ['', 'http://127.0.0.1']) {
      expect((await linking(home, 9000)).status).toBe(200);
      expect((await linking(home, 1000)).body.detail).toMatch(/leads to a post that is not published/);
    }
  });
  it('find a text that another post has already, also after both change', async () => {
    const [one, two, three] = [
      await room.pitch('writer', 'One text'),
      await room.pitch('writer', 'Two text'),
      await room.pitch('writer', 'Three text'),
    ];
    await room.write('writer', one.id, doc(LONG));
    await room.write(
      'writer',
      three.id,
      doc('Something else entirely, about blacking a hull in the rain and waiting for it to dry out again.'),
    );
    await eventually(
      async () =>
        await room.running.services.db('post_signatures').where({ post_id: one.id }).first('post_id'),
    );
    await room.write('writer', two.id, doc(`${LONG} And one sentence more.`));
    const context = await eventually(async () => {
      const c = (await room.call('writer', 'get', `/api/posts/${two.id}/checks`)).body as CheckContext;
      return c.alike && c;
    });
    expect(context.alike).toMatchObject({ id: one.id, title: 'One text' });
    expect(context.alike!.share).toBeGreaterThan(0.9);
    expect(
      await mostAlikeText(
        room.running.services.db,
        1,
        three.id,
        (await likenessOf(doc('No text of ours has any of these words in a row, we hope so.')))!,
      ),
    ).toBeNull();
    const post = await room.see('writer', two.id);
    const checks: Check[] = checkPost(
      {
        ...post,
        tagIds: [],
        leadBytes: null,
        format: null,
        leftovers: null,
        alike: context.alike,
        pages: {},
      },
      context.settings,
    );
    expect(checks.find((c) => c.key === 'likeness')!.state).toBe('warns');
  });
});
