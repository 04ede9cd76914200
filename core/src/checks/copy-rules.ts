import { countLeftovers } from '../alike/leftovers.js';
import { TOO_ALIKE } from '../alike/minhash.js';
import { POST_FIELDS } from '../posts/fields.js';
import { formatCount } from '../time/format.js';
import type { CheckKey, Rule } from './check.js';

/** Rules about what a text has in common with others. */
export const COPY_RULES = {
  leftovers: ({ leftovers }) => {
    if (!leftovers)
      return {
        ok: true,
        measure: 'Not copied from another post',
        wanted: 'nothing left over',
        fix: 'leftover',
        offer: 'Show',
      };
    const n = countLeftovers(leftovers);
    const parts = [
      leftovers.blocks.length > 0
        ? formatCount(leftovers.blocks.length, 'paragraph or picture', 'paragraphs or pictures')
        : '',
      ...leftovers.fields.map((f) => POST_FIELDS[f].label),
    ].filter(Boolean);
    return {
      ok: n === 0,
      measure:
        n === 0
          ? 'Nothing is left of the post it was copied from'
          : `Left over from the post it was copied from: ${parts.join(', ')}`,
      wanted: 'nothing left over',
      fix: 'leftover',
      offer: 'Show',
      ...(leftovers.blocks.length > 0 ? { block: leftovers.blocks[0]! } : {}),
    };
  },
  likeness: ({ alike }) => {
    const much = alike !== null && alike.share >= TOO_ALIKE;
    return {
      ok: !much,
      measure: much
        ? `Shares ${Math.round(alike.share * 100)}% of its runs of words with “${alike.title}”`
        : 'No other post is too like it',
      wanted: `less than ${Math.round(TOO_ALIKE * 100)}% shared with any post`,
      fix: 'alike',
      offer: 'Compare',
    };
  },
} satisfies Partial<Record<CheckKey, Rule>>;
