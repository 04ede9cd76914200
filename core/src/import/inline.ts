import type { BodyNode } from '../body/schema.js';

export type Mark = NonNullable<BodyNode['marks']>[number];

const MARK_ORDER = ['link', 'bold', 'italic', 'code', 'inserted', 'deleted'];

/** White space as HTML collapses it; no-break spaces are characters and stay. */
export function collapse(text: string): string {
  return text
    .replace(/[ \t\r\n\f]+/g, ' ')
    .replace(/[\u0000-\u0008\u000b\u000e-\u001f\u200b\ufeff\ufffc]/g, '');
}

export function textNode(text: string, marks: Mark[]): BodyNode {
  const sorted = sortMarks(marks);
  return { type: 'text', text, ...(sorted.length > 0 ? { marks: sorted } : {}) };
}

/** Marks in the schema's order. */
export function sortMarks(marks: Mark[]): Mark[] {
  return [...marks].sort((a, b) => MARK_ORDER.indexOf(a.type) - MARK_ORDER.indexOf(b.type));
}

export const withoutBold = (node: BodyNode): BodyNode => {
  const marks = node.marks?.filter((m) => m.type !== 'bold');
  const { marks: _, ...rest } = node;
  return marks && marks.length > 0 ? { ...rest, marks } : rest;
};

/**
 * Joins runs with equal marks, drops white space at both ends and around breaks, and drops trailing breaks.
 */
export function tidyInline(nodes: BodyNode[]): BodyNode[] {
  const out: BodyNode[] = [];
  // Code is kept to the character.
  const isCode = (node: BodyNode | undefined) => node?.marks?.some((m) => m.type === 'code') ?? false;
  for (const node of nodes) {
    const last = out[out.length - 1];
    if (node.type === 'hardBreak') {
      if (last?.type === 'text' && !isCode(last)) last.text = last.text!.replace(/ +$/, '');
      if (last?.text === '') out.pop();
      if (out.length > 0) out.push(node);
      continue;
    }
    let text = node.text ?? '';
    if (!isCode(node) && (!last || last.type === 'hardBreak' || (last.text!.endsWith(' ') && !isCode(last))))
      text = text.replace(/^ +/, '');
    if (text === '') continue;
    if (last?.type === 'text' && JSON.stringify(last.marks) === JSON.stringify(node.marks)) last.text += text;
    else out.push({ ...node, text });
  }
  while (out.length > 0) {
    const last = out[out.length - 1]!;
    if (last.type === 'text') {
      if (isCode(last)) break;
      last.text = last.text!.replace(/ +$/, '');
      if (last.text !== '') break;
    }
    out.pop();
  }
  return out.some((n) => n.type === 'text' && (isCode(n) || /[^\s\u00a0]/.test(n.text!))) ? out : [];
}
