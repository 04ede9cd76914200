import { parse } from 'csv-parse/sync';
import { unpackPlanner, type PitchAlike, type PlannerAnswer } from '@keyroster/contract';
import { Newsroom } from '../testing/newsroom.js';

describe('pitches', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());
  const waiting = async () =>
    unpackPlanner((await (await room.as('chief')).get('/api/planner')).body as PlannerAnswer).pitches;
  const bring = async (who: 'chief' | 'editor' | 'writer', text: string | Buffer, name = 'ideas.csv') =>
    (await room.as(who)).post('/api/pitches/import').attach('file', Buffer.from(text), name);

  it('are kept forty at once (common practice, no published source), all or none', async () => {
    const titles = Array.from({ length: 40 }, (_, i) => `Thought ${i + 1}`);
    const kept = await (await room.as('chief')).post('/api/pitches').send({ titles, categoryId: 1 });
    expect([kept.status, kept.body.sentence, kept.body.ids.length]).toEqual([201, 'Kept 40 pitches.', 40]);
    expect(await waiting()).toHaveLength(40);
    const refused = await (
      await room.as('editor')
    )
      .post('/api/pitches')
      .send({ titles: ['One', 'Two'], categoryId: 2 });
    expect(refused.status).toBe(403);
    expect(
      (await (await room.as('chief')).post('/api/pitches').send({ titles: ['Fine', '  '], categoryId: null }))
        .status,
    ).toBe(400);
    expect(await waiting()).toHaveLength(40);
  });

  it('come from a CSV file with their category, writer and dates', async () => {
    const kept = await bring(
      'chief',
      '\ufefftitle;thought;category;writer;must be on\r\n"Candles; many";"Line one\nline ' +
        'two";towpath;writer Test;2031-12-24\r\n\r\nÉclusier ☂;;;;\r\n',
    );
    expect(kept.body).toMatchObject({ sentence: 'Kept 2 pitches from ideas.csv.' });
    const found = (await waiting()).filter((p) => kept.body.ids.includes(p.id)).sort((a, b) => a.id - b.id);
    expect(found).toMatchObject([
      {
        title: 'Candles; many',
        thought: 'Line one\nline two',
        categoryId: 1,
        byline: { name: 'writer Test' },
        dateConstraint: { notBefore: null, notAfter: null, mustBeOn: '2031-12-24' },
      },
      { title: 'Éclusier ☂', thought: '', categoryId: null, byline: null },
    ]);
  });

  it.each([
    ['Heading,Text\nA,B\n', 415, 'The first row has to name the columns, with “title” among them.'],
    ['title,colour\nA,red\n', 415, '“colour” is no column of pitches.'],
    [
      'title,category\nGood,Towpath\nBad,Nowhere\n,Towpath\n',
      400,
      'Line 3: there is no category “Nowhere”. Line 4: a pitch needs a title. Nothing was kept.',
    ],
    [
      'title,not before\nA,24/12/2031\n',
      400,
      'Line 2: “24/12/2031” is not a date like 2026-12-24. Nothing was kept.',
    ],
    ['title,not before,not after\nA,2031-12-24,2031-12-01\n', 400, 'leaves no day. Nothing was kept.'],
    ['title\n"never closed\n', 415, 'The file cannot be read as CSV'],
    ['title\n', 400, 'The file has no row below its column names.'],
    ['', 415, 'The first row has to name the columns'],
    [`title\n${'An idea\n'.repeat(50_000)}`, 413, 'The file has more than 2,000 rows.'],
  ])('%j: %i %s', async (text, status, sentence) => {
    const before = (await waiting()).length;
    const answer = await bring('chief', text);
    expect([answer.status, answer.body.detail]).toEqual([status, expect.stringContaining(sentence)]);
    expect(await waiting()).toHaveLength(before);
  });

  it('come with the cells parted by tabs, semicolons, bars or what the file says', async () => {
    const send = (text: string) => bring('writer', text);
    for (const [name, text] of [
      ['tabs', 'title\tthought\nTabbed\tOne, two'],
      ['semicolons', 'title;thought\r\nHalved;One, two'],
      ['bars', 'title|thought\nBarred|One; two'],
      ['said', 'sep=#\r\ntitle#thought\r\nSaid#One; two, three'],
    ])
      expect([name, (await send(text!)).status]).toEqual([name, 201]);
    const over = await send('title,thought\nFine,yes\nToo many,cells,here');
    expect([over.status, over.body.detail]).toEqual([
      415,
      'Line 3 has more cells than there are columns; perhaps a quotation mark is missing. Nothing was kept.',
    ]);
    expect((await send('title,thought,title\nA,b,c')).body.detail).toBe(
      'There are two columns named “title”. Nothing was kept.',
    );
  });

  it('have titles of one line, however they come', async () => {
    const pitch = await room.pitch('chief', 'Broken\nin two\tparts');
    expect(pitch.title).toBe('Broken in two parts');
    await room.change('chief', pitch.id, { title: 'Again\r\nbroken\u2028up' });
    expect((await room.see('chief', pitch.id)).title).toBe('Again broken up');
  });

  it('do not come from what is not text', async () => {
    expect((await bring('chief', Buffer.from([0x50, 0x4b, 0x03, 0x04, 0xff, 0xfe, 0x00]))).body.code).toBe(
      'wrong-file',
    );
    expect(
      (await bring('writer', 'title,writer\nMine,writer Test\nTheirs,otherWriter Test\n')).body.detail,
    ).toMatch(/^Line 3: Crediting somebody else is not yours to do/);
    expect((await bring('editor', 'title,category\nA,Engine\n')).body.detail).toMatch(
      /^Line 2: Pitching for a category you do not edit/,
    );
  });

  it('that resemble an earlier post or pitch say which one and how alike', async () => {
    const old = await room.cleared('Bleeding the fuel line');
    const pitch = await room.pitch('chief', 'How to bleed a stubborn fuel line');
    const other = await room.pitch('chief', 'Лодка в тумане');
    const alike = (await (await room.as('writer')).get('/api/pitches/alike')).body as PitchAlike[];
    expect(alike.find((a) => a.id === pitch.id)).toMatchObject({
      alike: { id: old.id, title: 'Bleeding the fuel line', stage: 'cleared' },
      score: 0.75,
      shared: ['bleed', 'fuel', 'line'],
    });
    expect(alike.find((a) => a.id === other.id)).toBeUndefined();
  });

  it('may say when they want to run, and how good they are', async () => {
    const pitch = await room.pitch('writer', 'Candle boats');
    const dateConstraint = { notBefore: null, notAfter: '2031-12-24', mustBeOn: null };
    expect((await room.change('writer', pitch.id, { dateConstraint })).status).toBe(403);
    expect((await room.change('editor', pitch.id, { dateConstraint })).status).toBe(200);
    expect((await room.change('writer', pitch.id, { rating: 5 })).status).toBe(403);
    expect((await room.change('editor', pitch.id, { rating: 4 })).body.post).toMatchObject({
      rating: 4,
      dateConstraint,
    });
    expect((await room.change('editor', pitch.id, { rating: 6 })).status).toBe(400);
    expect(
      (
        await room.change('editor', pitch.id, {
          dateConstraint: { ...dateConstraint, mustBeOn: '2032-01-01' },
        })
      ).body.detail,
    ).toBe('It must be on Thu 1 Jan, which its other dates rule out.');
  });

  it('are typed straight onto a date, or not at all', async () => {
    const put = async (who: 'chief' | 'writer', runAt: string) =>
      (await room.as(who))
        .post('/api/posts')
        .send({ title: 'On a date', thought: 'At once', categoryId: 1, runAt });
    const done = await put('chief', '2031-06-03T08:00');
    expect([done.status, done.body.stage, done.body.runLocal, done.body.thought]).toEqual([
      201,
      'commissioned',
      '2031-06-03T08:00:00',
      'At once',
    ]);
    const before = (await waiting()).length;
    expect((await put('writer', '2031-06-03T08:00')).status).toBe(403);
    expect((await put('chief', '2031-03-30T01:30')).body).toMatchObject({
      code: 'time-gap',
      choices: [expect.anything(), expect.anything()],
    });
    expect(await waiting()).toHaveLength(before);
  });

  it('leave the house again as the run list, read back by another program', async () => {
    await (await room.as('chief')).post('/api/posts').send({
      title: '=HYPERLINK("http://evil.example"), "quoted"\n☂',
      categoryId: 1,
      bylineId: room.ids.writer,
      runAt: '2031-07-01T08:00',
    });
    const answer = await (await room.as('writer')).get('/api/planner/run-list.csv?from=2031-06-30&weeks=1');
    expect(answer.headers['content-type']).toBe('text/csv; charset=utf-8');
    expect(parse(answer.text, { columns: true, bom: true })).toEqual([
      {
        date: '2031-07-01',
        time: '08:00',
        zone: 'Europe/London',
        title: '\'=HYPERLINK("http://evil.example"), "quoted" ☂',
        writer: 'writer Test',
        category: 'Towpath',
        stage: 'commissioned',
        'copy date': '',
        words: '0',
        late: '',
        'still lacks': 'its text, an excerpt, handing in',
        slug: '',
      },
    ]);
    expect(
      (
        await (
          await room.as('writer')
        ).get('/api/planner/run-list.csv?from=2031-06-30&weeks=1&stage=drafting')
      ).text
        .trim()
        .split('\r\n'),
    ).toHaveLength(1);
    expect((await room.nobody().get('/api/planner/run-list.csv')).status).toBe(401);
  });
});
