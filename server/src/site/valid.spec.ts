import { HtmlValidate } from 'html-validate';
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
      version: 1,
      settings: { start: { intro: 'Begin & go on.', posts: ids } },
      panels: PANEL_KINDS.map((kind) => ({
        ...newPanel(kind),
        text: 'Some <words> & more.',
        links: [{ label: 'There & back', url: 'https://example.org/?a=1&b=2' }],
      })),
    });
    const post = await room.see('chief', ids[0]!);
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
