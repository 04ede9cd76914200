import type { BodyNode } from '../body/schema.js';
import {
  keyOf,
  makerOf,
  readBlockSuggestion,
  writeBlockSuggestion,
  type SuggestionMaker,
} from '../body/suggestion-key.js';

type Mark = NonNullable<BodyNode['marks']>[number];
/** Is this mark of a word one that somebody suggests? */
export const isSuggestion = ({ type }: Mark): boolean => type === 'inserted' || type === 'deleted';

/** Every word of a node, through a function. */
function mapInline(node: BodyNode, map: (inline: BodyNode) => BodyNode): BodyNode {
  if (node.type === 'text' || node.type === 'hardBreak') return map(node);
  return node.content ? { ...node, content: node.content.map((child) => mapInline(child, map)) } : node;
}

function inlinesOf(node: BodyNode): BodyNode[] {
  if (node.type === 'text' || node.type === 'hardBreak') return [node];
  return (node.content ?? []).flatMap(inlinesOf);
}

const withMark = (node: BodyNode, mark: Mark): BodyNode => ({
  ...node,
  marks: [...(node.marks ?? []), mark],
});
const without = (node: BodyNode): BodyNode => {
  const { suggested: _, ...attrs } = node.attrs ?? {};
  const { attrs: __, ...bare } = node;
  return Object.keys(attrs).length > 0 ? { ...bare, attrs } : bare;
};

/**
 * A text whose suggestions are all of words, as other programs have them: where a whole block is suggested, its words
 * are. A suggested block without words is as it was: there if it would go, and not there if it would come.
 */
export function suggestedInWords(body: BodyNode): BodyNode {
  const content = (body.content ?? []).flatMap((block) => {
    const whole = readBlockSuggestion(block.attrs?.['suggested']);
    if (!whole) return [block];
    const plain = without(block);
    if (inlinesOf(plain).length === 0) return whole.does === 'deleted' ? [plain] : [];
    return [
      mapInline(plain, (inline) =>
        inline.marks?.some(isSuggestion)
          ? inline
          : withMark(inline, { type: whole.does, attrs: { key: whole.key } }),
      ),
    ];
  });
  return { ...body, content: content.length > 0 ? content : [{ type: 'paragraph' }] };
}

/** The other way: a block all of whose words are one suggestion is suggested as a whole. */
export function suggestedInBlocks(body: BodyNode): BodyNode {
  return {
    ...body,
    content: (body.content ?? []).map((block) => {
      const marks = inlinesOf(block).map((inline) => (inline.marks ?? []).filter(isSuggestion));
      const [first] = marks[0] ?? [];
      const isOne =
        first !== undefined &&
        marks.every(
          (all) =>
            all.length === 1 &&
            all[0]!.type === first.type &&
            all[0]!.attrs?.['key'] === first.attrs?.['key'],
        );
      if (!isOne) return block;
      const plain = mapInline(block, ({ marks: own, ...inline }) => {
        const others = (own ?? []).filter((m) => !isSuggestion(m));
        return others.length > 0 ? { ...inline, marks: others } : inline;
      });
      const does = first.type as 'inserted' | 'deleted';
      return {
        ...plain,
        attrs: {
          ...plain.attrs,
          suggested: writeBlockSuggestion({ does, key: String(first.attrs!['key']) }),
        },
      };
    }),
  };
}

/** A text with the suggestions of other people: each maker becomes who `personOf` says. */
export function suggestedBy(body: BodyNode, personOf: (maker: SuggestionMaker) => number): BodyNode {
  const renamed = (key: unknown): string => {
    const maker = makerOf(key)!;
    return keyOf({ ...maker, personId: personOf(maker) });
  };
  const visit = (node: BodyNode): BodyNode => {
    const whole = readBlockSuggestion(node.attrs?.['suggested']);
    return {
      ...node,
      ...(whole
        ? { attrs: { ...node.attrs, suggested: writeBlockSuggestion({ ...whole, key: renamed(whole.key) }) } }
        : {}),
      ...(node.marks?.some(isSuggestion)
        ? {
            marks: node.marks.map((m) =>
              isSuggestion(m) ? { ...m, attrs: { key: renamed(m.attrs?.['key']) } } : m,
            ),
          }
        : {}),
      ...(node.content ? { content: node.content.map(visit) } : {}),
    };
  };
  return visit(body);
}
