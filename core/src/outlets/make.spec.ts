import fc from 'fast-check';
import {
  USUAL_LIMITS,
  PIECE_KINDS,
  RankedSource,
  lengthOf,
  makePiece,
  pieceErrors,
  type MadePiece,
} from '../index.js';
import { text, heading, source, ask, made, refusal } from './testing.js';

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
