import type { BodyNode } from './schema.js';
import { inlineText } from './text.js';

/** A heading of the text's top level and the blocks it holds, up to the next heading that is not deeper. */
export interface Section {
  text: string;
  level: number;
  /** Blocks of the body from its heading (inclusive) to its end (exclusive). */
  from: number;
  to: number;
  /** Its level is more than one below the heading before it; the first should be 2. */
  skips: boolean;
}

/** The sections of a body, in order. Headings within boxes and quotes belong to no section. */
export function sectionsOf(body: BodyNode): Section[] {
  const blocks = body.content ?? [];
  const sections: Section[] = [];
  let before = 1;
  blocks.forEach((block, from) => {
    if (block.type !== 'heading') return;
    const level = Number(block.attrs?.['level'] ?? 2);
    let to = from + 1;
    while (
      to < blocks.length &&
      !(blocks[to]!.type === 'heading' && Number(blocks[to]!.attrs?.['level'] ?? 2) <= level)
    )
      to++;
    sections.push({ text: inlineText(block), level, from, to, skips: level > before + 1 });
    before = level;
  });
  return sections;
}

/** A run of blocks that is to stand before another block. */
export interface BlockMove {
  from: number;
  to: number;
  /** Counted before anything moves; the number of blocks for the end. */
  at: number;
}

/**
 * The move that puts a section before another (or, with the number of sections, at the end); null when that
 * changes nothing.
 */
export function sectionMove(body: BodyNode, section: number, before: number): BlockMove | null {
  const sections = sectionsOf(body);
  const moved = sections[section];
  if (!moved) return null;
  const at = sections[before]?.from ?? (body.content ?? []).length;
  return at >= moved.from && at <= moved.to ? null : { from: moved.from, to: moved.to, at };
}

/** The same section one place up or down among those of its level or above. */
export function sectionStep(body: BodyNode, section: number, direction: -1 | 1): BlockMove | null {
  const sections = sectionsOf(body);
  const moved = sections[section];
  if (!moved) return null;
  if (direction < 0) {
    for (let i = section - 1; i >= 0; i--)
      if (sections[i]!.level <= moved.level) return sectionMove(body, section, i);
    return null;
  }
  const next = sections.find((s) => s.from >= moved.to);
  return next ? { from: moved.from, to: moved.to, at: next.to } : null;
}

/** The body after a move; the whole of it, since what is kept is the list of blocks. */
export function moveBlocks(body: BodyNode, { from, to, at }: BlockMove): BodyNode {
  const blocks = body.content ?? [];
  const run = blocks.slice(from, to);
  const rest = (lo: number, hi: number) =>
    blocks.slice(lo, hi).filter((_, i) => lo + i < from || lo + i >= to);
  return { ...body, content: [...rest(0, at), ...run, ...rest(at, blocks.length)] };
}
