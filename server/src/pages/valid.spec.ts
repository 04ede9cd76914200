import { HtmlValidate } from 'html-validate';
import request from 'supertest';
import { LOOK_KEYS, PANEL_KINDS, newPanel } from '@keyroster/core';
import { release } from '../posts/release.js';
import { fromNow, Newsroom } from '../testing/newsroom.js';
import { pageAt } from './pages.js';
import { relatePost } from './relate.js';

/**
 * Pages of every kind through html-validate, a validator of its own, with its rules for documents as the HTML
 * standard has them; what it has beside these on how one writes HTML is left out.
 */
const validator = new HtmlValidate({
  extends: ['html-validate:standard', 'html-validate:a11y'],
  // Names and numbers are written by people; nothing breaks where they have a space.
  rules: { 'tel-non-breaking': 'off' },
});

describe('the pages of a blog', () => {
  let room: Newsroom;
  const paths: string[] = [];
  /** Pages that are made for who asks; by staff, they are of their own. */
  const asked: string[] = [];
  beforeAll(async () => {
    room = await Newsroom.make();
    const ids: number[] = [];
    for (const title of ['Locks & <gates>', 'Locks and the "gates" again', 'Of eels'])
      ids.push((await room.scheduled(fromNow(-1), title)).id);
    await room.change('chief', ids[0]!, {
      excerpt: 'With “quotes” & <tags>.',
      subtitle: 'Under it',
      place: 'Tolver',
      tags: ['lamps', 'rope & twine'],
      sourceUrl: 'https://example.org/?a=1&b=2',
      spotlight: { from: '2020-01-01', until: '2099-01-01' },
    });
    for (const id of ids) await release(room.db, id);
    for (const id of ids) await relatePost(room.db, id);
    await room.db('memberships').update({
      biography: 'Walks.\n\nWrites & reads.',
      links: JSON.stringify([{ label: '', url: 'https://example.org/?a=1&b=2' }]),
    });
    const chief = await room.as('chief');
    await chief.patch('/api/site').send({
      ...{ start: { intro: 'Begin & go on.', posts: ids }, comments: true, members: true },
      panels: PANEL_KINDS.map((kind) => ({
        ...newPanel(kind),
        text: 'Some <words> & more.',
        links: [{ label: 'There & back', url: 'https://example.org/?a=1&b=2' }],
      })),
    });
    const post = await room.see('chief', ids[0]!);
    const said = {
      blog_id: 1,
      post_id: ids[0],
      state: 'approved',
      name: 'Ada <b>',
      text: 'One & two.\n\nThree.',
    };
    const [first] = await room.db('comments').insert(said).returning<{ id: number }[]>('id');
    await room.db('comments').insert([
      { ...said, parent_id: first!.id, person_id: room.ids.chief },
      { ...said, kind: 'mention', source: 'https://example.org/?a=1&b=2' },
    ]);
    await room.db('serials').insert({ blog_id: 1, title: 'Gates & all', intro: 'One <by> one.' });
    await room
      .db('serial_parts')
      .insert(
        ids.map((id, i) => ({ serial_id: 1, post_id: id, position: i, days: i, hours: 0, minutes: 0 })),
      );
    asked.push(`/comment/${first!.id}`, '/sign-in', '/sign-in?back=/start', `/${post.slug!}`, '/');
    const hidden = await room.scheduled(fromNow(-1), 'For members & more');
    await release(room.db, hidden.id);
    await room.change('chief', hidden.id, { access: 'members' });
    const locked = await room.scheduled(fromNow(-1), 'With a key');
    await release(room.db, locked.id);
    await room.change('chief', locked.id, { access: 'password', readingPassword: 'x' });
    for (const { id } of [hidden, locked]) asked.push(`/${(await room.see('chief', id)).slug}`);
    const [year, month] = [post.runLocal!.slice(0, 4), post.runLocal!.slice(5, 7)];
    paths.push('/', '/category/towpath', '/category/engine', '/tag/lamps', '/writer/writer-test', '/writers');
    paths.push(
      `/${year}`,
      `/${year}/${month}`,
      '/archive',
      '/start',
      '/search',
      '/nothing-here',
      `/${post.slug!}`,
    );
  });
  afterAll(() => room.close());

  it.each(LOOK_KEYS)('are valid HTML in the look %s', async (look) => {
    await room.db('blogs').update({ look: JSON.stringify({ look }) });
    const found: string[] = [];
    const check = async (path: string, query?: string) => {
      const page = (await pageAt(room.db, room.running.services.settings, path, { query }))!;
      const report = await validator.validateString(page.body);
      for (const { messages } of report.results)
        for (const m of messages) found.push(`${path}: ${m.ruleId}: ${m.message} (line ${m.line})`);
    };
    for (const path of paths) await check(path);
    await check('/search', 'locks & <gates>');
    expect(found).toEqual([]);
  });

  it('are valid where they ask readers for something, and as staff have them', async () => {
    const found: string[] = [];
    for (const path of asked)
      for (const cookie of ['', await room.cookieOf('chief')]) {
        const { text } = await request(room.url).get(path).set('Cookie', cookie);
        const report = await validator.validateString(text);
        for (const { messages } of report.results)
          for (const m of messages) found.push(`${path} ${cookie !== ''}: ${m.ruleId}: ${m.message}`);
      }
    expect(found).toEqual([]);
  });

  it('would be found out if they were not', async () => {
    const report = await validator.validateString('<!doctype html><p><div></p><img src="x">');
    expect(report.errorCount).toBeGreaterThan(2);
  });

  it('each have one address, and a title of their own', async () => {
    const titles = new Set<string>();
    for (const path of paths.filter((p) => p !== '/nothing-here')) {
      const { body, status } = (await pageAt(room.db, room.running.services.settings, path))!;
      expect([path, status]).toEqual([path, 200]);
      expect(body.match(/<link rel="canonical"/g)).toHaveLength(1);
      titles.add(/<title>(.*?)<\/title>/.exec(body)![1]!);
    }
    expect(titles.size).toBe(paths.length - 1);
  });
});
