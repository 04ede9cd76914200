import { getSchema } from '@tiptap/core';
import type { Schema } from '@tiptap/pm/model';
import { bodySchema } from '@keyroster/core';
import { bodyExtensions } from './editor-extensions';

/**
 * What decides which documents a schema takes: content, groups and marks of nodes, and attributes with their
 * defaults. An attribute that must be given counts as null: the editor always gives it.
 */
function rules(schema: Schema) {
  const attrs = (spec: { attrs?: Record<string, { default?: unknown }> | null }) =>
    Object.fromEntries(
      Object.entries(spec.attrs ?? {})
        .map(([name, a]) => [name, a.default ?? null])
        .sort(),
    );
  return {
    nodes: Object.fromEntries(
      Object.entries(schema.nodes).map(([name, type]) => [
        name,
        {
          content: (type.spec.content ?? '').replace(/\s*\|\s*/g, ' | '),
          inline: type.isInline,
          block: type.isInGroup('block'),
          atom: type.isAtom,
          attrs: attrs(type.spec),
        },
      ]),
    ),
    marks: Object.fromEntries(
      Object.entries(schema.marks).map(([name, type]) => [
        name,
        { attrs: attrs(type.spec), excludes: name === 'code' ? type.spec.excludes : undefined },
      ]),
    ),
  };
}

describe('the editor and the stored body', () => {
  const editor = rules(getSchema(bodyExtensions()));
  const stored = rules(bodySchema);
  it('know the same nodes and marks', () => {
    expect(Object.keys(editor.nodes).sort()).toEqual(Object.keys(stored.nodes).sort());
    expect(Object.keys(editor.marks).sort()).toEqual(Object.keys(stored.marks).sort());
  });
  it.each(Object.keys(stored.nodes))('agree on %s', (name) => {
    expect(editor.nodes[name]).toEqual(stored.nodes[name]);
  });
  it.each(Object.keys(stored.marks))('agree on mark %s', (name) => {
    expect(editor.marks[name]?.attrs).toEqual(stored.marks[name]!.attrs);
  });
});
