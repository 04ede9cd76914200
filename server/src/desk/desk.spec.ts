import mammoth from 'mammoth';
import { parse as parseYaml } from 'yaml';
import sharp from 'sharp';
import type { BodyNode, Check } from '@keyroster/core';
import type {
  CheckContext,
  FormatView,
  PostDetails,
  PostView,
  TagView,
  TemplateView,
  TitleTrialView,
} from '@keyroster/contract';
import { Newsroom, doc, eventually, fromNow, type Who } from '../testing/newsroom.js';
import { addDays, checkPost } from '@keyroster/core';
import { release } from '../posts/release.js';
import { clockOf } from '../slots/clock.js';
import { likenessOf } from '../work/computing.js';
import { mostAlikeText } from './alike.js';

const LONG = Array.from(
  { length: 30 },
  (_, i) => `Close paddle number ${i} before you open gate ${i + 1} on the long flight.`,
).join(' ');

describe('the desk', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make({ jobs: true });
  });
  afterAll(() => room.close());
  const call = async (who: Who, method: 'get' | 'post' | 'patch' | 'delete', path: string, body?: object) => {
    const asked = (await room.as(who))[method](path);
    return body ? asked.send(body) : asked;
  };
  const put = async (who: Who, id: number, body: BodyNode) =>
    (await room.as(who))
      .put(`/api/posts/${id}/body`)
      .set('If-Match', `"${(await room.see('chief', id)).version}"`)
      .send({ body });
  const picture = async (who: Who = 'writer', shade = '#2f6f9f') =>
    (
      await (await room.as(who)).post('/api/media').attach(
        'file',
        await sharp({ create: { width: 60, height: 40, channels: 3, background: shade } })
          .png()
          .toBuffer(),
        'gate.png',
      )
    ).body as { id: number; src: string };

  describe('details', () => {
    it('are kept, and seen again', async () => {
      const post = await room.pitch('chief', 'Everything there is', {
        categoryId: 1,
        bylineId: room.ids.writer,
      });
      const media = await picture();
      const changes = {
        subtitle: 'And a little more',
        tags: ['Stern gear', 'winter'],
        sharePicture: media.id,
        searchTitle: 'All of it',
        searchDescription: 'What a post can hold.',
        sourceUrl: 'https://waterways.example/a',
        titleLinks: true,
        place: 'Tolver',
        comments: false,
        commentCall: 'Tell us.',
        campaign: 'Winter',
        secondCategoryId: 2,
        coauthorIds: [room.ids.otherWriter],
      };
      expect((await room.change('chief', post.id, changes)).status).toBe(200);
      const { coauthorIds: _, ...kept } = changes;
      expect(await room.see('chief', post.id)).toMatchObject({
        ...kept,
        tags: [{ name: 'Stern gear' }, { name: 'winter' }],
        coauthors: [{ id: room.ids.otherWriter }],
      });
      expect((await room.change('chief', post.id, { tags: ['WINTER'] })).status).toBe(200);
      expect((await room.see('chief', post.id)).tags.map((t) => t.name)).toEqual(['winter']);
    });
    it.each<[string, object, number]>([
      ['a source that is a script', { sourceUrl: 'javascript:alert(1)' }, 400],
      ['the first category twice', { secondCategoryId: 1 }, 400],
      ['a picture that is not there', { sharePicture: 9999 }, 400],
      ['a format that is not there', { formatId: 9999 }, 400],
      ['too many tags', { tags: Array.from({ length: 21 }, (_, i) => `t${i}`) }, 400],
      ['a tag of nothing', { tags: [''] }, 400],
      ['values without a format', { formatValues: { a: 'b' } }, 200],
    ])('%s is answered with a sentence', async (_, changes, status) => {
      const post = await room.pitch('chief');
      const answer = await room.change('chief', post.id, changes);
      expect(answer.status).toBe(status);
      if (status !== 200) expect(answer.body.detail).toMatch(/\.$/);
    });
    it('are the writer’s as far as they belong to writing, and no further', async () => {
      const post = await room.pitch('writer');
      expect(
        (await room.change('writer', post.id, { tags: ['ice'], searchTitle: 'x', place: 'y' })).status,
      ).toBe(200);
      expect((await room.change('writer', post.id, { comments: false })).status).toBe(403);
      expect((await room.change('writer', post.id, { campaign: 'x' })).status).toBe(403);
      expect((await room.change('otherWriter', post.id, { tags: ['x'] })).status).toBe(403);
    });
  });

  describe('tags', () => {
    it('are renamed and merged by editors, and the posts go along', async () => {
      const post = await room.pitch('chief', 'A merged one');
      await room.change('chief', post.id, { tags: ['lock keeper', 'Lock keepers'] });
      const tags = (await call('writer', 'get', '/api/tags')).body as TagView[];
      const [one, many] = [
        tags.find((t) => t.name === 'lock keeper')!,
        tags.find((t) => t.name === 'Lock keepers')!,
      ];
      expect((await call('writer', 'patch', `/api/tags/${one.id}`, { mergeInto: many.id })).status).toBe(403);
      expect((await call('editor', 'patch', `/api/tags/${one.id}`, { name: 'lock keepers' })).status).toBe(
        409,
      );
      expect((await call('editor', 'patch', `/api/tags/${one.id}`, { mergeInto: one.id })).status).toBe(400);
      expect(
        (
          (await call('editor', 'patch', `/api/tags/${one.id}`, { mergeInto: many.id })).body as TagView[]
        ).find((t) => t.id === many.id)!.posts,
      ).toBe(1);
      expect((await room.see('chief', post.id)).tags).toEqual([{ id: many.id, name: 'Lock keepers' }]);
      expect((await call('editor', 'patch', `/api/tags/${one.id}`, { name: 'gone' })).status).toBe(404);
    });
    it('are made once, when two people type the same at once', async () => {
      const [a, b] = [await room.pitch('chief', 'One'), await room.pitch('chief', 'Two')];
      const both = await Promise.all([
        room.change('chief', a.id, { tags: ['same moment'] }),
        room.change('editor', b.id, { tags: ['Same moment'] }),
      ]);
      expect(both.map((r) => r.status)).toEqual([200, 200]);
      expect(
        ((await call('chief', 'get', '/api/tags')).body as TagView[]).filter(
          (t) => t.name.toLowerCase() === 'same moment',
        ),
      ).toHaveLength(1);
    });
  });

  describe('formats and templates', () => {
    const howTo = {
      name: 'Guide',
      hint: 'One task.',
      fields: [
        { key: 'time', label: 'Time', kind: 'minutes', required: true, hint: '', choices: [] },
        { key: 'tools', label: 'Tools', kind: 'lines', required: false, hint: '', choices: [] },
      ],
      starterText: '## What you need\n\n- [ ] kettle',
    };
    it('have fields that are checked, and starter text that comes back as it was typed', async () => {
      const format = (await call('chief', 'post', '/api/formats', howTo)).body as FormatView;
      expect(format).toMatchObject({ name: 'Guide', starterText: howTo.starterText, posts: 0 });
      const post = await room.pitch('writer');
      expect(
        (
          await room.change('writer', post.id, {
            formatId: format.id,
            formatValues: { time: 40, tools: ['a spanner'] },
          })
        ).status,
      ).toBe(200);
      expect((await room.change('writer', post.id, { formatValues: { time: 'soon' } })).body.detail).toBe(
        '“Time” takes whole minutes.',
      );
      expect((await room.change('writer', post.id, { formatValues: { height: 3 } })).status).toBe(400);
      expect((await room.see('chief', post.id)).formatValues).toEqual({ time: 40, tools: ['a spanner'] });
      expect((await call('chief', 'patch', `/api/formats/${format.id}`, { retired: true })).status).toBe(200);
      expect((await room.change('writer', post.id, { formatValues: { time: 41 } })).status).toBe(200);
      expect(
        (await room.change('writer', (await room.pitch('writer')).id, { formatId: format.id })).status,
      ).toBe(400);
      expect((await room.change('writer', post.id, { formatId: null })).status).toBe(200);
      expect((await room.see('chief', post.id)).formatValues).toEqual({});
    });
    it('are the managing editor’s to change, and want a name of their own', async () => {
      expect((await call('editor', 'post', '/api/formats', { ...howTo, name: 'Mine' })).status).toBe(403);
      expect((await call('chief', 'post', '/api/formats', { ...howTo, name: 'guide' })).status).toBe(409);
      expect(
        (
          await call('chief', 'post', '/api/formats', {
            ...howTo,
            name: 'Twice',
            fields: [howTo.fields[0], howTo.fields[0]],
          })
        ).body.detail,
      ).toMatch(/Two fields/);
    });
    it('keep a post’s text as a template', async () => {
      const post = await room.pitch('writer');
      await put('writer', post.id, doc('Begin here.') as BodyNode);
      expect(
        (await call('writer', 'post', '/api/templates', { name: 'Opening', postId: post.id })).status,
      ).toBe(403);
      const made = (await call('editor', 'post', '/api/templates', { name: 'Opening', postId: post.id }))
        .body as TemplateView;
      expect(made).toMatchObject({ name: 'Opening', text: 'Begin here.' });
      expect(
        (await call('editor', 'patch', `/api/templates/${made.id}`, { text: '## Another' })).body.body
          .content[0].type,
      ).toBe('heading');
      expect((await call('editor', 'post', '/api/templates', { name: 'Empty', text: ' ' })).status).toBe(400);
      expect((await call('editor', 'delete', `/api/templates/${made.id}`)).status).toBe(204);
      expect((await call('editor', 'delete', `/api/templates/${made.id}`)).status).toBe(404);
    });
  });

  describe('title trials', () => {
    it('are kept with author and time, once each', async () => {
      const post = await room.pitch('writer');
      await call('writer', 'post', `/api/posts/${post.id}/title-trials`, { title: 'Six turns' });
      const trials = (
        await call('editor', 'post', `/api/posts/${post.id}/title-trials`, { title: 'Six turns' })
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
        (await call('otherWriter', 'post', `/api/posts/${post.id}/title-trials`, { title: 'Mine' })).status,
      ).toBe(403);
      expect((await call('otherWriter', 'delete', `/api/title-trials/${trials[0]!.id}`)).status).toBe(403);
      expect((await call('writer', 'delete', `/api/title-trials/${trials[0]!.id}`)).status).toBe(204);
      expect((await call('writer', 'get', `/api/posts/${post.id}/title-trials`)).body).toEqual([]);
    });
    it('are compared with the titles of the blog, not with pitches', async () => {
      const cleared = await room.cleared('A title that is used');
      const { body } = await call('writer', 'get', '/api/titles');
      expect(body.titles).toContainEqual([cleared.id, 'A title that is used', false, null]);
      expect((await call('proofreader', 'get', '/api/titles')).status).toBe(403);
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
      const { body } = await call('writer', 'get', '/api/titles');
      expect(body.titles).toContainEqual([old, 'Out for long', true, 7]);
      expect(body.titles).toContainEqual([young, 'Out for a little', true, null]);
    });
  });

  describe('a copied post', () => {
    it('brings its build along and is compared with its source until nothing is left', async () => {
      const source = await room.pitch('writer', 'Draining a calorifier');
      const lead = await picture();
      await put(
        'writer',
        source.id,
        doc(
          'Close the cold feed before you open the drain.',
          'Let the water out slowly and mind your feet.',
        ) as BodyNode,
      );
      await room.change('writer', source.id, {
        excerpt: 'Before the frost.',
        leadPicture: { media: lead.id, alt: 'a tap' },
        tags: ['winter'],
      });
      const copy = (await call('otherWriter', 'post', `/api/posts/${source.id}/copies`, {})).body as PostView;
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
        const context = (await call('otherWriter', 'get', `/api/posts/${copy.id}/checks`))
          .body as CheckContext;
        return { p, context };
      };
      const { context } = await left();
      expect(context.source).toMatchObject({ title: source.title, leadMedia: lead.id });
      await eventually(async () => (await room.see('chief', copy.id)).checks.warns > 0);
      const before = (await room.see('chief', copy.id)).checks.warns;
      await put(
        'otherWriter',
        copy.id,
        doc('Turn the engine over by hand, six full turns, and listen.') as BodyNode,
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
      await put('writer', post.id, {
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
      expect((await call('editor', 'patch', '/api/blog', { checks: { links: 'warns' } })).status).toBe(403);
      expect(
        (await call('chief', 'patch', '/api/blog', { checks: { links: 'warns', tags: 'blocks' } })).status,
      ).toBe(200);
      expect((await room.move('editor', post.id, { to: 'cleared' })).body.detail).toBe(
        'The checks hold it back: No tag.',
      );
      await call('chief', 'patch', '/api/blog', { checks: { tags: 'off' } });
      expect((await room.move('editor', post.id, { to: 'cleared' })).status).toBe(200);
      await call('chief', 'patch', '/api/blog', { checks: { links: 'blocks', tags: 'warns' } });
    });
    it('count links to a post that goes out before as found, and to one that goes out later as not', async () => {
      const first = await room.scheduled(fromNow(5000), 'First out of two');
      const linking = async (home: string, runIn: number) => {
        const post = await room.cleared(`Links ahead ${runIn}`);
        await put('editor', post.id, {
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
      await put('writer', one.id, doc(LONG) as BodyNode);
      await put(
        'writer',
        three.id,
        doc(
          'Something else entirely, about blacking a hull in the rain and waiting for it to dry out again.',
        ) as BodyNode,
      );
      await eventually(
        async () =>
          await room.running.services.db('post_signatures').where({ post_id: one.id }).first('post_id'),
      );
      await put('writer', two.id, doc(`${LONG} And one sentence more.`) as BodyNode);
      const context = await eventually(async () => {
        const c = (await call('writer', 'get', `/api/posts/${two.id}/checks`)).body as CheckContext;
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
          searchDescription: '',
          tags: 0,
          lead: null,
          briefLength: null,
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

  describe('a post goes out', () => {
    let post: PostDetails;
    beforeAll(async () => {
      post = await room.cleared('Out: a post, "quoted"');
      const media = await picture('editor', '#884422');
      await put('editor', post.id, {
        type: 'doc',
        content: [
          { type: 'heading', attrs: { level: 2 }, content: [{ type: 'text', text: 'Then' }] },
          {
            type: 'paragraph',
            content: [
              { type: 'text', text: 'Bold', marks: [{ type: 'bold' }] },
              { type: 'text', text: ' & <b>' },
            ],
          },
          {
            type: 'bulletList',
            content: [
              {
                type: 'listItem',
                content: [
                  { type: 'paragraph', content: [{ type: 'text', text: 'one' }] },
                  {
                    type: 'orderedList',
                    attrs: { start: 3 },
                    content: [
                      {
                        type: 'listItem',
                        content: [{ type: 'paragraph', content: [{ type: 'text', text: 'deep' }] }],
                      },
                    ],
                  },
                ],
              },
            ],
          },
          {
            type: 'table',
            content: [
              {
                type: 'tableRow',
                content: ['Lock', 'Rise'].map((t) => ({
                  type: 'tableHeader',
                  attrs: {},
                  content: [{ type: 'paragraph', content: [{ type: 'text', text: t }] }],
                })),
              },
              {
                type: 'tableRow',
                content: ['22', '2.1 m'].map((t) => ({
                  type: 'tableCell',
                  attrs: {},
                  content: [{ type: 'paragraph', content: [{ type: 'text', text: t }] }],
                })),
              },
            ],
          },
          {
            type: 'paragraph',
            content: [
              {
                type: 'text',
                text: 'the chart',
                marks: [{ type: 'link', attrs: { href: 'https://waterways.example/chart' } }],
              },
            ],
          },
          { type: 'picture', attrs: { media: media.id, alt: 'a gate' } },
        ],
      });
      await room.change('editor', post.id, { tags: ['ice'], excerpt: 'One: two.' });
    });
    const out = async (as: string, who: Who = 'editor') =>
      (await room.as(who))
        .get(`/api/posts/${post.id}/out?as=${as}`)
        .buffer(true)
        .parse((res, done) => {
          const parts: Buffer[] = [];
          res.on('data', (c: Buffer) => parts.push(c));
          res.on('end', () => done(null, Buffer.concat(parts)));
        });

    it('as Markdown with front matter that YAML reads', async () => {
      const text = ((await out('markdown')).body as Buffer).toString();
      const front = /^---\n([\s\S]*?)\n---\n/.exec(text)!;
      expect(parseYaml(front[1]!)).toMatchObject({
        title: 'Out: a post, "quoted"',
        excerpt: 'One: two.',
        author: 'writer Test',
        tags: ['ice'],
      });
      expect(text).toContain('## Then\n\n**Bold** \\& \\<b>');
    });
    it('as Word, which a Word reader reads', async () => {
      const answer = await out('docx');
      expect(answer.headers['content-disposition']).toMatch(/attachment; filename="[a-z0-9-]+\.docx"/);
      const { value } = await mammoth.convertToHtml(
        { buffer: answer.body as Buffer },
        { styleMap: ["p[style-name='Title'] => h1:fresh"] },
      );
      expect(value).toContain('<h1>Out: a post, "quoted"</h1>');
      for (const part of [
        '<h2>Then</h2>',
        '<strong>Bold</strong>',
        '<ul><li>one<ol><li>deep</li></ol></li></ul>',
        '<table><thead><tr><th><p>Lock</p>',
        '<a href="https://waterways.example/chart">the chart</a>',
        '<img alt="a gate" src="data:image/',
      ])
        expect(value).toContain(part);
    });
    it('as HTML that stands alone, and as plain text', async () => {
      const html = ((await out('html')).body as Buffer).toString();
      expect(html).toMatch(/^<!doctype html>/);
      expect(html).toContain('<strong>Bold</strong> &amp; &lt;b&gt;');
      expect(html).toMatch(/<img src="http:\/\/127\.0\.0\.1\/media\/\d+/);
      expect(((await out('text')).body as Buffer).toString()).toContain(
        'Then\n====\n\nBold & <b>\n\n- one\n  3. deep\n\nLock\tRise\n22\t2.1 m\n\nthe chart',
      );
    });
    it('in no other way, and not for those who may not see it', async () => {
      expect((await out('pdf')).status).toBe(400);
      expect((await out('html', 'proofreader')).status).toBe(404);
    });
  });
});
