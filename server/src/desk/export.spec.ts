import mammoth from 'mammoth';
import { parse as parseYaml } from 'yaml';
import type { PostDetails } from '@keyroster/contract';
import { Newsroom, type Who } from '../testing/newsroom.js';

let room: Newsroom;
beforeAll(async () => {
  room = await Newsroom.make({ jobs: true });
});
afterAll(() => room.close());

describe('a post goes out as a file', () => {
  let post: PostDetails;
  beforeAll(async () => {
    post = await room.cleared('Out: a post, "quoted"');
    const media = await room.picture('editor', '#884422');
    await room.write('editor', post.id, {
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
