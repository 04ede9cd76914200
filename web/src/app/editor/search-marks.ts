import { Extension } from '@tiptap/core';
import { search } from 'prosemirror-search';

/** Marks what find and replace found. */
export const SearchMarks = Extension.create({ name: 'searchMarks', addProseMirrorPlugins: () => [search()] });
