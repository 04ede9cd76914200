import fc from 'fast-check';
import Graph from 'graphology';
import { splitGraphemes } from 'unicode-segmenter/grapheme';
import pagerank from 'graphology-metrics/centrality/pagerank.js';
import {
  NO_ARCHIVE,
  PIECE_KINDS,
  RankedSource,
  USUAL_LIMITS,
  fitSentence,
  graphemesOf,
  instructionRemarks,
  keyPhrases,
  lengthOf,
  makePiece,
  movedOn,
  pageRank,
  pieceErrors,
  readInstruction,
  formatInstruction,
  sentenceGraph,
  sentenceStems,
  sourceOf,
  usedNow,
  wholeSentences,
  type BodyNode,
  type MadePiece,
  type PieceAsk,
  type PieceKind,
  type Source,
} from '../index.js';

const text = (t: string): BodyNode => ({ type: 'paragraph', content: [{ type: 'text', text: t }] });
const heading = (t: string): BodyNode => ({
  type: 'heading',
  attrs: { level: 2 },
  content: [{ type: 'text', text: t }],
});
const BODY: BodyNode = {
  type: 'doc',
  content: [
    text(
      'A stern gland that drips is doing its work. Two drops a minute under way is right; ' +
        'none at all means that it runs hot. T. Orme has packed thirty of them.',
    ),
    heading('What to look for'),
    text(
      'Lift the boards and watch the gland with the engine in gear. Do the drops come ' +
        'faster than they did in spring? Touch the housing: a gland that you cannot keep a ' +
        'hand on is too tight.',
    ),
    { type: 'blockquote', content: [text('A dry gland is an expensive gland, and a wet one is only wet.')] },
    {
      type: 'picture',
      attrs: { media: 7, alt: 'A brass gland with two drops beneath it', caption: 'Two drops, and no hurry' },
    },
    heading('Packing it again'),
    {
      type: 'bulletList',
      content: [
        'Slacken both nuts and slide the collar back.',
        'Pick out the old rings with a corkscrew tool.',
        'Cut three new rings, ends at a slant, joins turned apart.',
        'Tighten by hand, and then a quarter turn more.',
      ].map((t) => ({ type: 'listItem', content: [text(t)] })),
    },
    text(
      'Grease the gland and run the engine for ten minutes. Nip the nuts up when the packing has settled.',
    ),
  ],
};
const source = (body: BodyNode = BODY, more: Partial<Source> = {}): Source => ({
  title: 'How to pack a stern gland',
  excerpt: 'Two drops a minute.',
  url: 'https://halfwaylock.example/pack-stern-gland',
  byline: 'Tobias Orme',
  blog: 'Halfway Lock',
  category: 'Engine room',
  tags: ['stern gear', 'winter'],
  phrases: [],
  ...sourceOf(body),
  ...more,
});
const LIMITS = {
  'short post': 'short-post network',
  thread: 'short-post network',
  'picture card': 'picture network',
  gallery: 'picture network',
  'quote card': 'picture network',
  question: 'short-post network',
  'professional post': 'professional network',
} as const;
const ask = (kind: PieceKind, more: Partial<PieceAsk> = {}): PieceAsk => ({
  kind,
  outlet: { name: 'Towline', limits: USUAL_LIMITS[LIMITS[kind as keyof typeof LIMITS] ?? 'newsletter'] },
  instruction: '',
  shape: 'square',
  others: [other],
  ...more,
});
const other = new RankedSource(
  source(
    { type: 'doc', content: [text('A stove that smokes wants air. Sweep the flue before the first frost.')] },
    { title: 'Why stoves smoke', url: 'https://halfwaylock.example/stoves' },
  ),
);
const made = (
  kind: PieceKind,
  more: Partial<PieceAsk> = {},
  from = new RankedSource(source()),
): MadePiece => {
  const answer = makePiece(from, ask(kind, more));
  if (!answer.ok) throw new Error(answer.sentence);
  return answer.piece;
};
const refusal = (kind: PieceKind, from: RankedSource, more: Partial<PieceAsk> = {}) => {
  const a = makePiece(from, ask(kind, more));
  return a.ok ? null : a.sentence;
};

describe('lengths', () => {
  it('count graphemes as another reader of UAX #29 does', () => {
    // The package unicode-segmenter, which is tested against the Unicode Character Database's own file. One or
    // more of each class of that annex's table 2, and of its examples.
    const parts = [
      ...['a', ' ', '\r', '\n', '\u0001', '\u00ad', '\u0301', '\u0903', '\u0e33', '\u200d', '\u200c'],
      ...[
        '\u1100',
        '\u1161',
        '\u11a8',
        '\uac00',
        '\uac01',
        '🇬',
        '🇧',
        '👩',
        '❤\ufe0f',
        '🏽',
        '🏴',
        '\u{e0067}',
      ],
      ...['क', '्', 'ष', 'ि', '\u0600', '9\ufe0f\u20e3', 'é', 'ß', '漢', '👨‍👩‍👧‍👦', '🏳️‍🌈'],
    ];
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...parts), { maxLength: 12 }), (chosen) => {
        const text = chosen.join('');
        expect(graphemesOf(text)).toEqual([...splitGraphemes(text)]);
      }),
      { numRuns: 3000 },
    );
  });

  it('count as the outlet’s protocol does, and links for what they cost there', () => {
    const family = '👩‍👩‍👧 é';
    expect(
      [...(['graphemes', 'code points', 'UTF-16 units', 'bytes'] as const)].map((unit) =>
        lengthOf(family, { unit, linkCost: null }),
      ),
    ).toEqual([3, 7, 10, Buffer.byteLength(family)]);
    expect(
      lengthOf('See https://halfwaylock.example/a-very-long-address, now', {
        unit: 'graphemes',
        linkCost: 20,
      }),
    ).toBe('See , now'.length + 20);
  });

  it('are kept to without cutting words, links or graphemes', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.constantFrom(
            'gland',
            'https://halfwaylock.example/x',
            '👩‍👩‍👧',
            'naïve,',
            'weir;',
            'a',
            'drips',
            '水路',
            'é́',
          ),
          { minLength: 1, maxLength: 30 },
        ),
        fc.integer({ min: 1, max: 120 }),
        (words, max) => {
          const whole = words.join(' ');
          const fitted = fitSentence(whole, (t) => graphemesOf(t).length <= max);
          if (fitted === null) return;
          expect(graphemesOf(fitted).length).toBeLessThanOrEqual(max);
          const kept = fitted.replace(/ …$/, '').split(' ');
          kept.forEach((word, i) =>
            expect(i === kept.length - 1 ? words[i]!.replace(/[,;]$/, '') : words[i]).toBe(
              i === kept.length - 1 ? word.replace(/[,;]$/, '') : word,
            ),
          );
        },
      ),
    );
  });
});

describe('ranking', () => {
  it('gives the ranks that an independent implementation gives', () => {
    const sentences = source().sentences.map((s) => sentenceStems(s.text));
    const graph = sentenceGraph(sentences);
    // graphology-metrics, weighted PageRank with damping 0.85.
    const theirs = new Graph({ type: 'undirected' });
    graph.forEach((_, i) => theirs.addNode(String(i)));
    graph.forEach((edges, i) =>
      edges.forEach((weight, j) => {
        if (i < j) theirs.addEdge(String(i), String(j), { weight });
      }),
    );
    const ranks = (pagerank as unknown as (g: Graph, o: object) => Record<string, number>)(theirs, {
      alpha: 0.85,
      tolerance: 1e-9,
      maxIterations: 1000,
      getEdgeWeight: 'weight',
    });
    const ours = pageRank(graph);
    expect(ours.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9);
    ours.forEach((rank, i) => expect(rank).toBeCloseTo(ranks[String(i)]!, 5));
  });

  it('measures likeness as TextRank does', () => {
    // Mihalcea and Tarau 2004, section 4.1: shared words over ln|a| + ln|b|.
    const graph = sentenceGraph([new Set(['a', 'b', 'c']), new Set(['b', 'c', 'd', 'e']), new Set(['x'])]);
    expect(graph[0]!.get(1)).toBeCloseTo(2 / (Math.log(3) + Math.log(4)), 12);
    expect([graph[1]!.get(0), graph[2]!.size]).toEqual([graph[0]!.get(1), 0]);
  });

  it('finds phrases that set a post apart from the archive', () => {
    const texts = source().sentences.map((s) => s.text);
    const archive = {
      posts: 500,
      holding: new Map([
        ['engin', 400],
        ['gland', 3],
        ['turn', 450],
      ]),
    };
    const phrases = keyPhrases('How to pack a stern gland', texts, archive, 4).map((p) => p.text);
    expect(phrases[0]).toBe('stern gland');
    expect(phrases).not.toContain('engine');
    expect(keyPhrases('', [], NO_ARCHIVE, 4)).toEqual([]);
  });
});

describe('a source', () => {
  it('is taken apart into sentences with their places, not at initials and abbreviations', () => {
    expect(wholeSentences('T. Orme came, e.g. by boat. Dr. Kesh did not. It rained.')).toEqual([
      'T. Orme came, e.g. by boat.',
      'Dr. Kesh did not.',
      'It rained.',
    ]);
    const { sentences, pictures } = sourceOf(BODY);
    expect(sentences.filter((s) => s.kind === 'heading').map((s) => [s.text, s.section])).toEqual([
      ['What to look for', 1],
      ['Packing it again', 2],
    ]);
    expect(sentences.find((s) => s.text.startsWith('A dry gland'))).toMatchObject({
      kind: 'quote',
      section: 1,
    });
    expect(sentences.filter((s) => s.kind === 'list')).toHaveLength(4);
    expect(pictures).toEqual([
      {
        media: 7,
        alt: 'A brass gland with two drops beneath it',
        caption: 'Two drops, and no hurry',
        section: 1,
      },
    ]);
  });
});

describe('instructions', () => {
  it('are read in their measurable parts; the rest is left to the person', () => {
    expect(
      readInstruction(
        'Warm, for new owners, at most 120 characters, without link, stress the corkscrew tool',
      ),
    ).toMatchObject({
      tone: 'warm',
      audience: 'new owners',
      max: { n: 120, unit: 'characters' },
      link: false,
      stress: ['corkscrew tool'],
      rest: [],
    });
    expect(readInstruction('In two sentences. No hashtags; formal tone')).toMatchObject({
      max: { n: 2, unit: 'sentences' },
      tags: false,
      tone: 'formal',
      rest: [],
    });
    expect(readInstruction('about 200 characters')).toMatchObject({
      max: { n: 200, unit: 'characters' },
      stress: [],
    });
    expect(readInstruction('warm, at most 1,200 characters, about the drain plug')).toMatchObject({
      max: { n: 1200, unit: 'characters' },
      tone: 'warm',
      stress: ['drain plug'],
    });
    for (const text of ['not playful', 'keep the light on', 'never be formal', 'kind of a list'])
      expect([text, readInstruction(text)]).toEqual([
        text,
        expect.objectContaining({ tone: 'plain', rest: [text] }),
      ]);
    for (const [text, tone] of [
      ['be warm', 'warm'],
      ['in a formal tone', 'formal'],
      ['Keep it playful, please', 'playful'],
      ['warm in two sentences', 'warm'],
    ])
      expect(readInstruction(text!).tone).toBe(tone);
    expect(readInstruction('write a letter to members').max).toBeNull();
    expect(readInstruction('in a sentence').max).toEqual({ n: 1, unit: 'sentences' });
    expect(readInstruction('Sound like a gull').rest).toEqual(['Sound like a gull']);
    expect(readInstruction('')).toMatchObject({ max: null, link: null, tone: 'plain', rest: [] });
    expect(formatInstruction(readInstruction('40 words, with a link, about drips'))).toBe(
      'at most 40 words, with a link, stressing drips',
    );
  });

  it('that contradict the outlet’s limits are named', () => {
    expect(
      instructionRemarks(
        readInstruction('in 500 characters, with tags, with link'),
        { ...USUAL_LIMITS['short-post network'], links: false, tags: 0 },
        'Towline',
      ),
    ).toEqual([
      'The instruction asks for 500 characters, and Towline takes 300; it is fitted to 300.',
      'The instruction asks for a link, and Towline makes none of addresses.',
      'The instruction asks for tags, and Towline shows none.',
    ]);
  });

  it('are obeyed', () => {
    const short = made('short post', { instruction: 'at most 120 characters, without link, no tags' });
    expect(graphemesOf(short.parts[0]!).length).toBeLessThanOrEqual(120);
    expect(short.parts[0]).not.toMatch(/https|#/);
    expect(
      wholeSentences(
        made('professional post', { instruction: 'one sentence, without link, no tags' }).parts[0]!.split(
          '\n',
        )[0]!,
      ),
    ).toHaveLength(1);
    expect(made('short post', { instruction: 'stress the corkscrew tool' }).parts[0]).toContain('corkscrew');
    expect(made('short post', { instruction: 'for new owners' }).parts[0]).toMatch(
      /^For new owners:\n\n\p{Lu}/u,
    );
    expect(made('short post', { instruction: 'mention otters' }).remarks).toEqual([
      'Nothing in the post that fits here speaks of “otters”.',
    ]);
    expect(made('newsletter letter', { instruction: 'formal' }).parts[0]).toMatch(
      /^Dear reader,[\s\S]*With kind regards,\nTobias Orme$/,
    );
  });
});

describe('pieces', () => {
  it('of all twelve kinds are made, within what the outlet takes, the same each time', () => {
    for (const kind of PIECE_KINDS) {
      const piece = made(kind);
      expect(made(kind)).toEqual(piece);
      const { limits, name } = ask(kind).outlet;
      expect(
        pieceErrors(
          { ...piece, pictures: piece.words ? [{ alt: piece.alt, bytes: null, shape: 'square' }] : [] },
          limits,
          name,
        ),
      ).toEqual([]);
      expect(piece.parts.join('')).not.toBe('');
    }
  });

  it('take their words from the post and only lead on in our own', () => {
    const short = made('short post');
    for (const at of short.used) expect(short.parts[0]).toContain(source().sentences[at]!.text);
    expect(short.parts[0]).toContain('https://halfwaylock.example/pack-stern-gland');
    expect(made('thread').parts.at(-1)).toMatch(/How to pack a stern gland[\s\S]* (\d)\/\1$/);
    expect(made('checklist').parts[0]!.match(/☐/g)).toHaveLength(4);
    expect(made('quote card').words).toBe('“A dry gland is an expensive gland, and a wet one is only wet.”');
    expect(made('question').parts[0]).toMatch(/^Do the drops come|^How do you pack a stern gland\?|\?/);
    expect(made('gallery').parts[0]).toMatch(/^Two drops, and no hurry\./);
    expect(made('digest').parts[0]).toContain('Why stoves smoke');
  });

  it('come in truly different versions until the post holds no more, and says so', () => {
    const versions: MadePiece[] = [];
    let end = '';
    for (let i = 0; i < 12 && !end; i++) {
      const answer = makePiece(new RankedSource(source()), ask('quote card', { earlier: versions }));
      if (answer.ok) versions.push(answer.piece);
      else end = answer.sentence;
    }
    expect(new Set(versions.map((v) => v.words)).size).toBe(versions.length);
    expect(versions.length).toBeGreaterThan(2);
    const first = made('short post');
    expect(made('short post', { earlier: [first] }).used.some((u) => first.used.includes(u))).toBe(false);
  });

  it('are built from the sentences a person shades', () => {
    const at = source().sentences.findIndex((s) => s.text.startsWith('Grease the gland'));
    expect(made('short post', { only: [at] })).toMatchObject({ used: [at] });
    expect(refusal('short post', new RankedSource(source()), { only: [999] })).toBe(
      'None of the shaded sentences can be used. Shade at least one.',
    );
  });

  it('are made of ten words, thirty thousand, no headings and other scripts, or refused with a sentence', () => {
    const ten = new RankedSource(
      source(
        { type: 'doc', content: [text('The lock at Tolver is shut until the second of March.')] },
        { pictures: [] },
      ),
    );
    const long = new RankedSource(
      source({
        type: 'doc',
        content: Array.from({ length: 1500 }, (_, i) =>
          text(
            `Pound ${i} holds ${i * 7} boats, and the keeper of reach ${i % 31} counts swans by ` +
              `the weir at number ${i % 57} every morning in winter.`,
          ),
        ),
      }),
    );
    const script = new RankedSource(
      source(
        {
          type: 'doc',
          content: [
            text('冬天之前要排空水泵。先关闭海底阀，再打开最低的排水口。用手转动发动机六圈。'),
            heading('为什么'),
            text('一杯水就足以让外壳裂开。'),
          ],
        },
        { title: '冬季保养水泵', tags: ['冬天'] },
      ),
    );
    for (const [from, kinds] of [
      [ten, ['gallery', 'thread', 'checklist']],
      [long, ['gallery', 'checklist']],
      [script, ['gallery', 'checklist']],
    ] as const) {
      for (const kind of PIECE_KINDS) {
        const answer = makePiece(from, ask(kind));
        if (!answer.ok)
          expect([kind, kinds as readonly string[]]).toEqual([kind, expect.arrayContaining([kind])]);
        else if (ask(kind).outlet.limits.length)
          for (const part of answer.piece.parts)
            expect(lengthOf(part, ask(kind).outlet.limits.length!)).toBeLessThanOrEqual(
              ask(kind).outlet.limits.length!.max,
            );
      }
    }
    expect(made('short post', {}, script).parts[0]).toMatch(/[\u4e00-\u9fff]。[\u4e00-\u9fff]|https/);
    expect(refusal('short post', new RankedSource(source({ type: 'doc', content: [] })))).toBe(
      'The post has no text to make a piece from.',
    );
  });

  it('fit any outlet, whatever it takes', () => {
    const ranked = new RankedSource(source());
    fc.assert(
      fc.property(
        fc.constantFrom(...PIECE_KINDS),
        fc.integer({ min: 60, max: 600 }),
        fc.constantFrom('graphemes' as const, 'bytes' as const),
        fc.boolean(),
        (kind, max, unit, links) => {
          const limits = {
            ...USUAL_LIMITS['short-post network'],
            length: { max, unit, linkCost: null },
            links,
          };
          const answer = makePiece(ranked, { ...ask(kind), outlet: { name: 'Any', limits } });
          if (!answer.ok) return;
          const long = answer.piece.parts.some((p) => lengthOf(p, limits.length) > max);
          expect(long).toBe(
            answer.piece.remarks.includes('It could not be made as short as it was asked to be.'),
          );
          expect(long && max > 120).toBe(false);
        },
      ),
      { numRuns: 400 },
    );
  });
});

describe('a post that moves on', () => {
  const then = source();
  const used = [1, 4];
  const edited = (from: string, to: string, title = then.title) => ({
    ...source(JSON.parse(JSON.stringify(BODY).replace(from, to)) as BodyNode),
    title,
  });

  it('says what changed, and whether it matters to the piece', () => {
    expect(movedOn(then, used, source())).toMatchObject({
      what: 'nothing',
      sentence: 'The post says what it said.',
    });
    expect(movedOn(then, used, edited('ten minutes', 'a quarter of an hour'))).toMatchObject({
      what: 'others',
      gone: 1,
      come: 1,
    });
    expect(movedOn(then, used, edited('zzz', '', 'Packing a gland'))).toMatchObject({
      what: 'title',
      title: { was: 'How to pack a stern gland', is: 'Packing a gland' },
    });
    expect(
      movedOn(then, used, edited('Two drops a minute under way', 'Three drops a minute under way')),
    ).toMatchObject({
      what: 'used',
      used: [{ was: expect.stringMatching(/^Two drops/), is: expect.stringMatching(/^Three drops/) }],
      come: 0,
    });
    expect(movedOn(then, used, { title: then.title, sentences: then.sentences.slice(2) })).toMatchObject({
      what: 'used',
      used: [{ is: null }],
    });
  });

  it('finds the sentences a piece is to be built from again', () => {
    const now = edited('Two drops a minute under way', 'Three drops a minute under way');
    expect(usedNow(then, used, now).map((at) => now.sentences[at]!.text)).toEqual([
      expect.stringMatching(/^Three drops/),
      then.sentences[4]!.text,
    ]);
  });
});
