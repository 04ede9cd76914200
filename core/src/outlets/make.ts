import type { RankedSource } from './choose.js';
import { instructionRemarks } from './instruction.js';
import { Maker } from './maker.js';
import { sentTexts, type MadePiece, type MakeAnswer, type PieceAsk } from './piece.js';
import { overlap, sentenceStems } from './rank.js';
import { RULES } from './kinds/index.js';

/**
 * Makes a piece from a post, the same one whenever it is asked for in the same way: sentences are ranked,
 * chosen and put together by the rule of the kind, within what the outlet takes and what the instruction's
 * measurable parts ask. Nothing is invented but the lines that lead on. When that cannot be done it says why
 * in a sentence.
 */
export function makePiece(ranked: RankedSource, ask: PieceAsk): MakeAnswer {
  const maker = new Maker(ranked, ask);
  if (ranked.ranked.length === 0)
    return { ok: false, sentence: 'The post has no text to make a piece from.' };
  if (ask.only && !ranked.ranked.some((r) => ask.only!.includes(r.at)))
    return { ok: false, sentence: 'None of the shaded sentences can be used. Shade at least one.' };
  const draft = RULES[ask.kind](maker);
  if (typeof draft === 'string') return { ok: false, sentence: draft };
  const used = [...new Set(draft.used.map((u) => (typeof u === 'number' ? u : u.at)))].sort((a, b) => a - b);
  const piece: MadePiece = {
    subject: '',
    parts: [],
    words: '',
    alt: '',
    tags: [],
    ...draft,
    used,
    remarks: instructionRemarks(maker.read, ask.outlet.limits, ask.outlet.name),
  };
  for (const stress of maker.read.stress) {
    const stems = sentenceStems(stress);
    if (!used.some((at) => overlap(sentenceStems(ranked.source.sentences[at]!.text), stems) > 0))
      piece.remarks.push(`Nothing in the post that fits here speaks of “${stress}”.`);
  }
  if (maker.read.question && !piece.parts.some((p) => p.includes('?')))
    piece.remarks.push('There was no place for the question; ask it yourself.');
  if (sentTexts(ask.kind, piece.parts).some((p) => !maker.fits(p)))
    piece.remarks.push('It could not be made as short as it was asked to be.');
  const same = (ask.earlier ?? []).some(
    (e) =>
      e.words === piece.words &&
      e.parts.length === piece.parts.length &&
      e.parts.every((p, i) => bare(p) === bare(piece.parts[i]!)),
  );
  if (same)
    return {
      ok: false,
      sentence: 'The post holds no other version of this. Shade other sentences, or change the instruction.',
    };
  return { ok: true, piece };
}

/** A part without the line that leads on: two versions that differ only there are one. */
const bare = (part: string) =>
  part
    .split('\n')
    .filter((line) => !/https?:\/\//.test(line) && line.trim() !== '')
    .join('\n');
