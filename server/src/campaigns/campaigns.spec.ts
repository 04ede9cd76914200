import type { CampaignLine, CampaignView, PatternView } from '@keyroster/contract';
import { addDays } from '@keyroster/core';
import { clockOf } from '../slots/clock.js';
import { Newsroom, eventually, type Who } from '../testing/newsroom.js';

describe('campaigns', () => {
  let room: Newsroom;
  let today: string;
  let outletId: number;
  beforeAll(async () => {
    room = await Newsroom.make({ jobs: true });
    today = (await clockOf(room.db, 1)).today;
    const [outlet] = await room
      .db('outlets')
      .insert({
        ...{ blog_id: 1, name: 'Towline', slug: 'towline', kind: 'short-post network', protocol: 'micropub' },
        limits: JSON.stringify({
          length: { max: 300, unit: 'graphemes', linkCost: null },
          links: true,
          tags: 3,
        }),
      })
      .returning<{ id: number }[]>('id');
    outletId = outlet!.id;
  });
  afterAll(() => room.close());

  const add = async (name: string, who: Who = 'editor'): Promise<CampaignView> =>
    (await (await room.as(who)).post('/api/campaigns').send({ name })).body;
  const named = async (name: string): Promise<CampaignView> => {
    const all = (await (await room.as('editor')).get('/api/campaigns')).body as CampaignLine[];
    return see(all.find((c) => c.name === name)!.id);
  };
  const see = async (id: number, who: Who = 'editor'): Promise<CampaignView> =>
    (await (await room.as(who)).get(`/api/campaigns/${id}`)).body;
  const change = async (campaign: CampaignView, body: object, who: Who = 'editor') =>
    (await room.as(who))
      .put(`/api/campaigns/${campaign.id}`)
      .set('If-Match', `"${campaign.version}"`)
      .send({
        ...{ name: campaign.name, about: campaign.about },
        ...{ from: campaign.from, until: campaign.until, outletIds: campaign.outletIds },
        ...body,
      });

  it('gather the posts that name them, and say what is missing', async () => {
    const post = await room.cleared('Stoppages on the summit');
    await room.change('chief', post.id, {
      campaign: 'winter STOPPAGES',
      runAt: `${addDays(today, 40)}T08:00`,
    });
    // Whoever names it first begins it.
    const begun = await named('winter STOPPAGES');
    const campaign = (await change(begun, { name: 'Winter stoppages' }, 'chief')).body as CampaignView;
    expect((await room.see('chief', post.id)).campaign).toBe('Winter stoppages');
    expect(campaign.items).toMatchObject([
      { kind: 'post', title: 'Stoppages on the summit', state: 'cleared' },
    ]);
    const changed = await change(campaign, {
      about: 'What is shut, and where to wait.',
      from: today,
      until: addDays(today, 30),
      outletIds: [outletId],
    });
    expect([changed.status, changed.body.lacks]).toEqual([
      200,
      [
        'Outside the campaign’s days: “Stoppages on the summit”.',
        'Nothing of it goes to Towline yet.',
        '1 post without a picture: “Stoppages on the summit”.',
      ],
    ]);
    const [line] = (await (await room.as('editor')).get('/api/campaigns')).body;
    expect(line).toMatchObject({ name: 'Winter stoppages', posts: 1, out: 0, lacks: 3 });
    expect((await change(campaign, {})).status).toBe(412);
    expect((await change(changed.body, { from: addDays(today, 31) })).status).toBe(400);
    expect((await change(changed.body, { outletIds: [999] })).status).toBe(400);
    expect((await change(changed.body, { name: 'Two\nlines' })).status).toBe(400);
    const again = await (await room.as('editor')).post('/api/campaigns').send({ name: 'WINTER stoppages' });
    expect(again.status).toBe(409);
  });

  it('take their posts along to another name, all or none, and let go of them when they are deleted', async () => {
    const [own, foreign] = [await room.cleared('Locks at night'), await room.cleared('Engines at night')];
    await room.change('chief', foreign.id, { categoryId: 2 });
    for (const { id } of [own, foreign]) await room.change('chief', id, { campaign: 'Nights' });
    const campaign = await named('Nights');
    // An editor of one category does not decide about posts of another.
    expect((await change(campaign, { name: 'Long nights' })).status).toBe(403);
    expect((await room.see('chief', own.id)).campaign).toBe('Nights');
    const renamed = await change(campaign, { name: 'Long nights' }, 'chief');
    expect(renamed.status).toBe(200);
    expect((await room.see('chief', foreign.id)).campaign).toBe('Long nights');
    expect((await (await room.as('editor')).delete(`/api/campaigns/${campaign.id}`)).status).toBe(403);
    await (await room.as('chief')).delete(`/api/campaigns/${campaign.id}`).expect(204);
    expect((await room.see('chief', own.id)).campaign).toBe('');
    expect((await room.see('chief', own.id)).title).toBe('Locks at night');
  });

  it('have their pattern make its pieces once a post is cleared, and never twice', async () => {
    const campaign = await add('Thaw');
    const stop = {
      kind: 'short post',
      outletId,
      instruction: '',
      style: 'wedge',
      shape: 'square',
      timing: { kind: 'next day', time: '12:30' },
    };
    const put = async (body: object) =>
      (await room.as('editor')).post('/api/rollout-patterns').send({
        name: 'The thaw',
        formatId: null,
        categoryId: null,
        campaignId: null,
        byItself: true,
        stops: [stop],
        ...body,
      });
    expect((await put({})).body.fields).toEqual([
      { field: 'byItself', sentence: 'Say first for which posts.' },
    ]);
    expect((await put({ campaignId: 999 })).status).toBe(400);
    const kept = (await put({ campaignId: campaign.id })).body as PatternView[];
    expect(kept.find((p) => p.name === 'The thaw')).toMatchObject({
      campaignId: campaign.id,
      byItself: true,
    });

    const pieces = (id: number) => room.db('pieces').where({ post_id: id });
    const clear = async (title: string, name: string) => {
      const post = await room.pitch('chief', title, { categoryId: 1, bylineId: room.ids.chief });
      await room.change('chief', post.id, { campaign: name });
      await room.write(
        'chief',
        post.id,
        'A windlass left on its spindle breaks the hand of whoever comes next. The keeper of Tolver Lock hangs his on a nail beside the door every evening.',
      );
      expect((await room.move('chief', post.id, { to: 'cleared' })).status).toBe(200);
      return post;
    };
    const post = await clear('Ice goes out', 'thaw');
    await eventually(async () => (await pieces(post.id)).length === 1);
    const view = await see(campaign.id);
    expect(view.items.map((i) => [i.kind, i.outlet, i.state])).toEqual([
      ['post', '', 'cleared'],
      ['piece', 'Towline', 'waits for approval'],
    ]);
    expect(view.lacks).toEqual(expect.not.arrayContaining(['Nothing of it goes to Towline yet.']));
    // Cleared again, nothing is made again; one that is cleared after it says when it would have been.
    await room.db('all_posts').where({ id: post.id }).update({ stage: 'in review' });
    await room.move('chief', post.id, { to: 'cleared' });
    const other = await clear('Not of it', 'Frost');
    const last = await clear('Of it too', 'Thaw');
    await eventually(async () => (await pieces(last.id)).length === 1);
    expect(await pieces(other.id)).toEqual([]);
    expect(await pieces(post.id)).toHaveLength(1);
  });
});
