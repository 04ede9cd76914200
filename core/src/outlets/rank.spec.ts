import Graph from 'graphology';
import pagerank from 'graphology-metrics/centrality/pagerank.js';
import { keyPhrases, pageRank, sentenceGraph, sentenceStems, sourceOf, wholeSentences } from '../index.js';
import { BODY, source } from './testing.js';

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
    expect(keyPhrases('', [], { posts: 0, holding: new Map() }, 4)).toEqual([]);
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
