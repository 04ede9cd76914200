import { Extension, type Editor } from '@tiptap/core';
import { Plugin, PluginKey, type Transaction } from '@tiptap/pm/state';
import { ySyncPluginKey } from '@tiptap/y-tiptap';
import { settleSuggestions } from '@keyroster/core';
import { alone } from '../../posts/together/carets';
import { plainWords, suggestionOf, type Suggesting } from './rewrite';
import type { ShownText } from './suggestions.service';

const AS_IT_IS = 'asItIs';
/** Something that is done to the text itself although one suggests, as when suggestions are settled. */
export const asItIs = (tr: Transaction): Transaction => tr.setMeta(AS_IT_IS, true);

const isDoneAlready = (tr: Transaction) => {
  const meta = tr.getMeta(ySyncPluginKey) as { isChangeOrigin?: boolean } | undefined;
  return meta?.isChangeOrigin === true || tr.getMeta(AS_IT_IS) === true;
};

/**
 * Has what one types and deletes marked as suggested instead of done, while one suggests. It looks at what came of a
 * change and not at its steps, so that keys, commands, pastes and drops are all the same to it.
 */
export const asSuggestions = (suggesting: Suggesting & { on(): boolean }) =>
  Extension.create({
    name: 'asSuggestions',
    addProseMirrorPlugins: () => [
      new Plugin({
        key: new PluginKey('asSuggestions'),
        appendTransaction: (trs, before, after) => {
          if (!trs.some((tr) => tr.docChanged) || trs.some(isDoneAlready)) return null;
          const tr = suggesting.on() ? suggestionOf(suggesting, before, after) : plainWords(before, after);
          return tr && asItIs(tr);
        },
      }),
    ],
  });

/** The text of an editor, as far as suggestions go. */
export const shownText = (editor: Editor): ShownText => ({
  settle: (keys, how) => {
    const { tr } = editor.state;
    settleSuggestions(tr, (key) => (keys.includes(key) ? how : 'keep'));
    if (tr.docChanged) editor.view.dispatch(alone(asItIs(tr)));
  },
  placeOf: (key) => editor.view.dom.querySelector<HTMLElement>(`[data-suggestion="${CSS.escape(key)}"]`),
});
