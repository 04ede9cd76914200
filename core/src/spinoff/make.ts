import { countWords } from '../body/text.js';
import type { Shape } from '../picture/picture.js';
import { HANGING, type Ranked, RankedSource, type Wanted } from './choose.js';
import { instructionRemarks, readInstruction, type Instruction } from './instruction.js';
import { fitSentence, lengthOf } from './length.js';
import type { OutletLimits } from './outlet.js';
import { overlap, sentenceStems } from './rank.js';
import { CALLS, CLOSINGS, GREETINGS, hashtag, isStep, joined } from './words.js';

/** What can be made from a post. */
export const PIECE_KINDS = ['short post', 'thread', 'picture card', 'gallery', 'professional post', 'newsletter item', 'newsletter letter', 'digest', 'quote card', 'checklist', 'question', 'video caption'] as const;
export type PieceKind = (typeof PIECE_KINDS)[number];

/** Kinds that are drawn, and need a style and a shape. */
export const DRAWN_KINDS: readonly PieceKind[] = ['picture card', 'quote card'];

export interface PieceAsk {
  kind: PieceKind;
  outlet: { name: string; limits: OutletLimits };
  /** In words: who it is for, what to stress, how long, tone, with or without link. */
  instruction: string;
  shape: Shape;
  /** Earlier versions of the piece: another one is to be truly different. */
  earlier?: readonly { used: readonly number[]; parts: readonly string[]; words: string }[];
  /** The sentences a person has shaded; null: the engine chooses. */
  only?: readonly number[] | null;
  /** A digest's other posts. */
  others?: readonly RankedSource[];
}

/** A piece as the engine makes it. */
export interface MadePiece {
  /** Subject line of a letter, heading of an item, title of a video; '' where the kind has none. */
  subject: string;
  /** A thread and a gallery have several. */
  parts: string[];
  /** Drawn on the card; '' for kinds that are not drawn. */
  words: string;
  /** Alternative text of the card. */
  alt: string;
  tags: string[];
  /** Which sentences of the post it is built from, by index. */
  used: number[];
  /** What the instruction asked for and did not get, in sentences. */
  remarks: string[];
}

export type MakeAnswer = { ok: true; piece: MadePiece } | { ok: false; sentence: string };

type Draft = Partial<Omit<MadePiece, 'remarks' | 'used'>> & { used: readonly (Ranked | number)[] };
type Rule = (maker: Maker) => Draft | string;

const signs = (text: string) => lengthOf(text, { unit: 'graphemes', linkCost: null });

/** How many words a card can hold and still be read in passing, in graphemes. */
const CARD = 70;
const QUOTE = 150;
const MOST_PARTS = 8;

/** What a rule works with: the source, and what outlet and instruction allow. */
class Maker {
  readonly read: Instruction;
  readonly turn: number;
  readonly wanted: Wanted;
  readonly tags: string[];
  readonly link: string;

  constructor(readonly ranked: RankedSource, readonly ask: PieceAsk) {
    const { limits } = ask.outlet;
    this.read = readInstruction(ask.instruction);
    const earlier = ask.earlier ?? [];
    this.turn = earlier.length;
    const used = new Map<number, number>();
    for (const version of earlier) for (const at of version.used) used.set(at, (used.get(at) ?? 0) + 1);
    this.wanted = { stress: this.read.stress, used, only: ask.only ? new Set(ask.only) : null };
    this.tags = this.read.tags === false ? [] : this.source.tags.map(hashtag).filter(Boolean).slice(0, Math.min(limits.tags, this.read.tags ? limits.tags : 3));
    this.link = (this.read.link ?? true) && limits.links ? this.source.url : '';
  }

  get source() { return this.ranked.source; }
  /** The line that leads to the post; '' without a link. */
  get call(): string { return this.link === '' ? '' : `${this.choice(CALLS[this.read.tone])} ${this.link}`; }
  /** One of several, another for each version. */
  choice<T>(from: readonly T[]): T { return from[this.turn % from.length]!; }

  fits(text: string): boolean {
    const { length } = this.ask.outlet.limits;
    if (length && lengthOf(text, length) > length.most) return false;
    const { most } = this.read;
    return !most || most.unit === 'sentences' || (most.unit === 'words' ? countWords(text.replace(/https?:\/\/\S+|#\S+/g, '')) : signs(text)) <= most.n;
  }

  /** How many sentences, within what the instruction allows. */
  most(usual: number): number {
    const { most } = this.read;
    if (!most) return usual;
    return most.unit === 'sentences' ? Math.max(1, most.n) : most.unit === 'words' ? Math.max(usual, Math.ceil(most.n / 12)) : usual;
  }

  /** Blocks one under the other; those that are empty leave no gap. */
  stack(...blocks: string[]): string { return blocks.filter(Boolean).join('\n\n'); }

  audience(text: string): string { return this.read.audience === '' ? text : `For ${this.read.audience}: ${text}`; }

  /** As many of the best sentences as fit in the frame; failing that the best one made shorter; tags go first when there is no room, then the call. */
  fill(usual: number, frame: (text: string, call: string, tags: string) => string, wanted: Wanted = this.wanted): { text: string; used: Ranked[] } | null {
    for (const [call, tags] of [[this.call, this.tags.join(' ')], [this.call, ''], [this.link, ''], ['', '']] as const) {
      const whole = (chosen: readonly Ranked[]) => frame(this.audience(joined(chosen.map((c) => c.text))), call, tags);
      const chosen = this.ranked.pick(this.most(usual), wanted, (c) => this.fits(whole(c)));
      if (chosen.length > 0) return { text: whole(chosen), used: chosen };
      const best = this.ranked.best(wanted)[0];
      const short = best && fitSentence(best.text, (text) => this.fits(frame(this.audience(text), call, tags)));
      // A stump of a few signs is worth less than the tags and the call that left no room for more.
      if (best && short && (short.length > 40 || short === best.text || (call === '' && tags === ''))) return { text: frame(this.audience(short), call, tags), used: [best] };
    }
    return null;
  }

  /** Short things to draw on a card, best first: a telling sentence, else the title. */
  card(most: number): { words: string; used: (Ranked | number)[] } {
    const short = this.ranked.best(this.wanted).filter((r) => signs(r.text) <= most && r.words >= 3 && !HANGING.test(r.text) && !r.text.includes('http'));
    // A card says one thing: the strongest short sentence, never one that only half the post stands behind.
    const best = short[0];
    if (best) return { words: best.text.replace(/[.;:,]$/u, ''), used: [best] };
    const headings = this.ranked.headings().filter((h) => signs(h.text) <= most);
    const lines = [this.source.title, ...headings.map((h) => h.text)];
    const words = this.choice(lines);
    return { words: fitSentence(words, (t) => signs(t) <= most) ?? words, used: headings.filter((h) => h.text === words).map((h) => h.at) };
  }
}

const TOO_LITTLE = 'The post says too little to make this from it.';

const RULES: Record<PieceKind, Rule> = {
  'short post': (m) => {
    const made = m.fill(2, (text, call, tags) => m.stack(text, [call, tags].filter(Boolean).join('\n')));
    return made ? { parts: [made.text], tags: m.tags, used: made.used } : TOO_LITTLE;
  },

  thread: (m) => {
    const headings = m.ranked.headings();
    const bySection = (section: number): Wanted => ({ ...m.wanted, only: new Set(m.ranked.ranked.filter((r) => r.sentence.section === section && (!m.wanted.only || m.wanted.only.has(r.at))).map((r) => r.at)) });
    const sections = [0, ...headings.slice(0, 4 * MOST_PARTS).map((h) => h.section)].filter((s) => m.ranked.best(bySection(s)).length > 0).slice(0, MOST_PARTS - 1);
    const parts: { text: string; used: (Ranked | number)[] }[] = [];
    const number = (text: string) => `${text} 8/8`;
    const put = (usual: number, wanted: Wanted, head: string) => {
      const made = m.fill(usual, (text) => number(m.stack(head, text)), wanted);
      if (made) parts.push({ text: made.text.replace(/ 8\/8$/, ''), used: made.used });
    };
    if (sections.length >= 2) for (const s of sections) put(2, bySection(s), s === 0 ? '' : headings.find((h) => h.section === s)!.text);
    else {
      const picked = m.ranked.pick(6, m.wanted);
      for (let i = 0; i < picked.length; i += 2) put(2, { ...m.wanted, only: new Set(picked.slice(i, i + 2).map((r) => r.at)) }, '');
    }
    if (parts.length < 2) return 'The post says too little for a thread; a short post holds it.';
    const last = m.stack(m.source.title, m.call, m.tags.join(' '));
    if (m.link !== '') parts.push({ text: [last, m.stack(m.source.title, m.call), m.link].find((t) => m.fits(number(t))) ?? m.link, used: [] });
    return { parts: parts.map((p, i) => `${p.text} ${i + 1}/${parts.length}`), tags: m.tags, used: parts.flatMap((p) => p.used) };
  },

  'picture card': (m) => {
    const card = m.card(CARD);
    const made = m.fill(2, (text, call, tags) => m.stack(text, [call, tags].filter(Boolean).join('\n')), { ...m.wanted, used: new Map([...m.wanted.used ?? [], ...card.used.map((u) => [typeof u === 'number' ? u : u.at, 9] as const)]) });
    return { words: card.words, alt: `A ${m.ask.shape} card with the words “${card.words}”.`, parts: [made?.text ?? m.call], tags: m.tags, used: [...card.used, ...(made?.used ?? [])] };
  },

  gallery: (m) => {
    const pictures = m.source.pictures.filter((p) => p.media !== 0);
    if (pictures.length === 0) return 'The post has no pictures to caption.';
    const used: Ranked[] = [];
    const parts = pictures.slice(0, 10).map((picture) => {
      const near = m.ranked.best({ ...m.wanted, only: new Set(m.ranked.ranked.filter((r) => r.sentence.section === picture.section && !used.includes(r)).map((r) => r.at)) })[0];
      if (near) used.push(m.ranked.ranked.find((r) => r.at === near.at)!);
      const said = picture.caption || picture.alt;
      return [joined([said && !/[.!?…]$/u.test(said) ? `${said}.` : said, near?.text ?? ''].filter(Boolean)), said, near?.text ?? ''].find((t) => t !== '' && m.fits(t)) ?? m.source.title;
    });
    const end = m.stack(parts[0]!, [m.call, m.tags.join(' ')].filter(Boolean).join('\n'));
    if (m.fits(end)) parts[0] = end;
    return { parts, tags: m.tags, used };
  },

  'professional post': (m) => {
    const points = m.ranked.headings().slice(0, 4).map((h) => `– ${h.text}`);
    const list = points.length >= 2 ? points.join('\n') : '';
    const made = m.fill(3, (text, call, tags) => m.stack(text, list, call, tags)) ?? m.fill(3, (text, call, tags) => m.stack(text, call, tags));
    return made ? { parts: [made.text], tags: m.tags, used: [...made.used, ...(made.text.includes('– ') ? m.ranked.headings().slice(0, 4).map((h) => h.at) : [])] } : TOO_LITTLE;
  },

  'newsletter item': (m) => {
    const made = m.fill(3, (text, call) => m.stack(text, call));
    if (!made) return TOO_LITTLE;
    const subjects = [m.source.title, ...m.ranked.headings().map((h) => h.text)].filter((t) => signs(t) <= 70);
    return { subject: m.turn === 0 || subjects.length < 2 ? m.source.title : m.choice(subjects), parts: [made.text], used: made.used };
  },

  'newsletter letter': (m) => {
    const lead = m.ranked.pick(m.most(2), { ...m.wanted });
    const leads = new Set(lead.map((l) => l.at));
    const sections = m.ranked.headings().slice(0, 5).flatMap((h) => {
      const told = m.ranked.pick(2, { ...m.wanted, only: new Set(m.ranked.ranked.filter((r) => r.sentence.section === h.section && !leads.has(r.at) && (!m.wanted.only || m.wanted.only.has(r.at))).map((r) => r.at)) });
      return told.length === 0 ? [] : [{ text: `${h.text}\n${joined(told.map((t) => t.text))}`, used: [h.at, ...told] as (Ranked | number)[] }];
    });
    if (lead.length === 0) return TOO_LITTLE;
    const close = `${CLOSINGS[m.read.tone]}\n${m.source.byline || m.source.blog}`;
    for (let n = m.read.most?.unit === 'sentences' ? 0 : sections.length; n >= 0; n--) {
      const text = m.stack(GREETINGS[m.read.tone], m.audience(joined(lead.map((l) => l.text))), ...sections.slice(0, n).map((s) => s.text), m.call, close);
      if (m.fits(text)) return { subject: m.source.title, parts: [text], used: [...lead, ...sections.slice(0, n).flatMap((s) => s.used)] };
    }
    const short = m.fill(1, (text, call) => m.stack(GREETINGS[m.read.tone], text, call, close)) ?? m.fill(1, (text, call) => m.stack(text, call));
    return short ? { subject: m.source.title, parts: [short.text], used: short.used } : TOO_LITTLE;
  },

  digest: (m) => {
    const posts = [m.ranked, ...(m.ask.others ?? [])];
    if (posts.length < 2) return 'A digest needs at least one more post. Choose which.';
    const used: Ranked[] = [];
    const items = posts.map((post) => {
      const best = post === m.ranked ? m.ranked.best(m.wanted)[0] : post.best({ stress: m.read.stress })[m.turn % 2] ?? post.best()[0];
      if (post === m.ranked && best) used.push(best);
      return { title: post.source.title, text: best?.text ?? post.source.excerpt, url: (m.read.link ?? true) && m.ask.outlet.limits.links ? post.source.url : '' };
    });
    const full = (n: number, told: boolean) => m.stack(...items.slice(0, n).map((i) => [i.title, told ? i.text : '', i.url].filter(Boolean).join('\n')));
    for (const told of [true, false]) {
      for (let n = items.length; n >= 2; n--) if (m.fits(full(n, told))) return { subject: `${m.source.title}, and ${items.length - 1} more`, parts: [full(n, told)], used };
    }
    return 'There is not room for even two of the posts.';
  },

  'quote card': (m) => {
    const able = m.ranked.best(m.wanted).filter((r) => signs(r.text) <= QUOTE && r.words >= 5 && !HANGING.test(r.text) && !/[?:]$/.test(r.text) && !r.text.includes('http'));
    const best = [...able].sort((a, b) => Number(b.sentence.kind === 'quote') * b.score * 3 + b.score - (Number(a.sentence.kind === 'quote') * a.score * 3 + a.score))[0];
    if (!best) return 'No sentence of the post stands alone and is short enough to quote.';
    const words = `“${best.text.replace(/^[“"‘']|[”"’']$/gu, '')}”`;
    return { words, alt: `A ${m.ask.shape} card with a quotation: ${words}${m.source.byline ? ` ${m.source.byline}.` : ''}`, parts: [m.stack(m.source.title, [m.call, m.tags.join(' ')].filter(Boolean).join('\n'))].map((t) => (m.fits(t) ? t : m.link || m.source.title)), tags: m.tags, used: [best] };
  },

  checklist: (m) => {
    const allowed = (r: Ranked) => !m.wanted.only || m.wanted.only.has(r.at);
    const first = (list: readonly Ranked[]) => list.filter((r, i) => i === 0 || list[i - 1]!.sentence.block !== r.sentence.block);
    const listed = first(m.ranked.ranked.filter((r) => r.sentence.kind === 'list' && allowed(r)));
    const steps = m.ranked.ranked.filter((r) => isStep(r.text) && allowed(r));
    const from = listed.length >= 2 ? listed : steps.length >= 2 ? steps : null;
    const best = from ? new Set(m.ranked.best(m.wanted).filter((b) => from.some((f) => f.at === b.at)).slice(0, Math.min(7, m.most(7))).map((b) => b.at)) : null;
    const items: { text: string; used: Ranked | number }[] = from ? from.filter((r) => best!.has(r.at)).map((r) => ({ text: r.text, used: r })) : m.ranked.headings().slice(0, 7).map((h) => ({ text: h.text, used: h.at }));
    if (items.length < 2) return 'The post has no steps, list or headings to make a checklist of.';
    for (let n = items.length; n >= 2; n--) {
      for (const end of [m.stack(m.call, m.tags.join(' ')), m.link, '']) {
        const text = m.stack(m.audience(m.source.title), items.slice(0, n).map((i) => `☐ ${i.text.replace(/[.;]$/u, '')}`).join('\n'), end);
        if (m.fits(text)) return { parts: [text], tags: m.tags, used: items.slice(0, n).map((i) => i.used) };
      }
    }
    return 'There is not room for even two steps.';
  },

  question: (m) => {
    const asked = m.ranked.best(m.wanted).filter((r) => r.text.endsWith('?') && !HANGING.test(r.text));
    const how = /^how (?:to|we|I)\s+(.+)$/i.exec(m.source.title)?.[1];
    const headings = m.ranked.headings().map((h) => h.text.replace(/[.?!]$/u, ''));
    const questions: { text: string; used: (Ranked | number)[] }[] = [
      ...asked.map((r) => ({ text: r.text, used: [r] })), ...(how ? [{ text: `How do you ${how.replace(/[.?!]$/u, '')}?`, used: [] }] : []),
      ...(headings.length >= 2 ? [{ text: `Where would you begin: “${headings[0]!}” or “${headings.at(-1)!}”?`, used: [m.ranked.headings()[0]!.at, m.ranked.headings().at(-1)!.at] }] : []),
      { text: `What would you add to “${m.source.title}”?`, used: [] }, { text: `“${m.source.title}”: how is it where you are?`, used: [] }, { text: `What has “${m.source.title}” taught you the hard way?`, used: [] },
    ];
    const { text: question, used } = m.choice(questions);
    const made = m.fill(1, (text, call, tags) => m.stack(question, text, [call, tags].filter(Boolean).join('\n')), { ...m.wanted, used: new Map([...m.wanted.used ?? [], ...used.map((u) => [typeof u === 'number' ? u : u.at, 9] as const)]) });
    if (made) return { parts: [made.text], tags: m.tags, used: [...used, ...made.used] };
    return m.fits(question) ? { parts: [question], tags: m.tags, used } : TOO_LITTLE;
  },

  'video caption': (m) => {
    const made = m.fill(2, (text, call, tags) => m.stack(m.source.title, text, [call, tags].filter(Boolean).join('\n')));
    return made ? { subject: fitSentence(m.source.title, (t) => signs(t) <= 90) ?? m.source.title, parts: [made.text], tags: m.tags, used: made.used } : TOO_LITTLE;
  },
};

/**
 * Makes a piece from a post, the same one whenever it is asked for in the same way: sentences are ranked, chosen and put
 * together by the rule of the kind, within what the outlet takes and what the instruction's measurable parts ask. Nothing is invented
 * but the lines that lead on. When that cannot be done it says why in a sentence.
 */
export function makePiece(ranked: RankedSource, ask: PieceAsk): MakeAnswer {
  const maker = new Maker(ranked, ask);
  if (ranked.ranked.length === 0) return { ok: false, sentence: 'The post has no text to make a piece from.' };
  if (ask.only && !ranked.ranked.some((r) => ask.only!.includes(r.at))) return { ok: false, sentence: 'None of the shaded sentences can be used. Shade at least one.' };
  const draft = RULES[ask.kind](maker);
  if (typeof draft === 'string') return { ok: false, sentence: draft };
  const used = [...new Set(draft.used.map((u) => (typeof u === 'number' ? u : u.at)))].sort((a, b) => a - b);
  const piece: MadePiece = { subject: '', parts: [], words: '', alt: '', tags: [], ...draft, used, remarks: instructionRemarks(maker.read, ask.outlet.limits, ask.outlet.name) };
  for (const stress of maker.read.stress) {
    const stems = sentenceStems(stress);
    if (!used.some((at) => overlap(sentenceStems(ranked.source.sentences[at]!.text), stems) > 0)) piece.remarks.push(`Nothing in the post that fits here speaks of “${stress}”.`);
  }
  if (piece.parts.some((p) => !maker.fits(p))) piece.remarks.push('It could not be made as short as it was asked to be.');
  const same = (ask.earlier ?? []).some((e) => e.words === piece.words && e.parts.length === piece.parts.length && e.parts.every((p, i) => bare(p) === bare(piece.parts[i]!)));
  if (same) return { ok: false, sentence: 'The post holds no other version of this. Shade other sentences, or change the instruction.' };
  return { ok: true, piece };
}

/** A part without the line that leads on: two versions that differ only there are one. */
const bare = (part: string) => part.split('\n').filter((line) => !/https?:\/\//.test(line) && line.trim() !== '').join('\n');
