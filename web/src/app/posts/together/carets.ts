import { Extension } from '@tiptap/core';
import { Plugin, PluginKey, type Transaction } from '@tiptap/pm/state';
import { yCursorPlugin, yUndoPluginKey } from '@tiptap/y-tiptap';
import type { UndoManager } from 'yjs';
import type { TextConnection, TextPerson } from './text-connection';

const HUES = 10;
const hueOf = (person: TextPerson) => `var(--hue-${(person.id % HUES) + 1})`;

/** Where the others are in a text, with their names. */
export const carets = (text: TextConnection) =>
  Extension.create({
    name: 'carets',
    addProseMirrorPlugins: () => [
      yCursorPlugin(text.awareness, {
        cursorBuilder: (person: TextPerson) => {
          const caret = document.createElement('span');
          caret.className = 'caret';
          // Who is here is told beside the toolbar; between the words it would be read as one of them.
          caret.setAttribute('aria-hidden', 'true');
          caret.style.setProperty('--hue', hueOf(person));
          const name = document.createElement('span');
          name.className = 'caret-name';
          name.textContent = person.name;
          caret.append('\u2060', name, '\u2060');
          return caret;
        },
        selectionBuilder: (person: TextPerson) => ({
          class: 'selected-by',
          style: `--hue: ${hueOf(person)}`,
        }),
      }),
    ],
  });

const ALONE = 'alone';

/** Makes a change a step of its own for Undo, however soon it comes after what was typed before. */
export const alone = (tr: Transaction): Transaction => tr.setMeta(ALONE, true);

/** Keeps such steps apart from those before and after them. */
export const StepsAlone = Extension.create({
  name: 'stepsAlone',
  addProseMirrorPlugins: () => [
    new Plugin({
      key: new PluginKey('stepsAlone'),
      filterTransaction: (tr, state) => {
        if (!tr.getMeta(ALONE)) return true;
        const undo = yUndoPluginKey.getState(state) as { undoManager: UndoManager } | undefined;
        undo?.undoManager.stopCapturing();
        queueMicrotask(() => undo?.undoManager.stopCapturing());
        return true;
      },
    }),
  ],
});
