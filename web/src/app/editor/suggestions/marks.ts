import { Extension, Mark } from '@tiptap/core';
import { makerOf, readBlockSuggestion } from '@keyroster/core';

const HUES = 10;
const hueOf = (key: unknown) => `--hue: var(--hue-${((makerOf(key)?.personId ?? 0) % HUES) + 1})`;

const suggestionMark = (name: 'inserted' | 'deleted', tag: 'ins' | 'del') =>
  Mark.create({
    name,
    inclusive: false,
    addAttributes: () => ({
      key: {
        default: null,
        renderHTML: ({ key }) => ({ 'data-suggestion': key as string, style: hueOf(key) }),
      },
    }),
    // Copied words are words: what is suggested of them stays where it was.
    renderHTML: ({ HTMLAttributes }) => [tag, HTMLAttributes, 0],
  });

/** Words that somebody suggests to put in. */
export const Inserted = suggestionMark('inserted', 'ins');
/** Words that somebody suggests to take out. */
export const Deleted = suggestionMark('deleted', 'del');

/** Whole blocks that somebody suggests to put in or to take out. */
export const suggestedBlocks = (types: string[]) =>
  Extension.create({
    name: 'suggestedBlocks',
    addGlobalAttributes: () => [
      {
        types,
        attributes: {
          suggested: {
            default: null,
            parseHTML: () => null,
            renderHTML: ({ suggested }) => {
              const block = readBlockSuggestion(suggested);
              return block
                ? { 'data-suggestion': block.key, 'data-does': block.does, style: hueOf(block.key) }
                : {};
            },
          },
        },
      },
    ],
  });
