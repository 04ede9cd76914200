import { signal } from '@angular/core';
import { MatAutocompleteHarness } from '@angular/material/autocomplete/testing';
import { MatChipRowHarness } from '@angular/material/chips/testing';
import { TestKey } from '@angular/cdk/testing';
import type { PostChanges, PostView } from '@keyroster/contract';
import { answer, post, show, type Shown } from '../../testing/newsroom';
import { press } from '../../testing/hands';
import { ApiError } from '../api/api';
import { PostService } from '../posts/post.service';
import { TagsField } from './tags-field';

const known = [
  { id: 1, name: 'ice', posts: 2 },
  { id: 2, name: 'propellers', posts: 9 },
];
const view = signal<PostView | null>(null);
let field: Shown<TagsField>;
let refusal: Error | null;
async function open(tags: typeof known = [], write = true): Promise<void> {
  refusal = null;
  view.set(post({ tags: tags as never, rights: { write, details: true, plan: true, note: true } as never }));
  const change = (what: (post: PostView) => PostChanges) => {
    if (refusal) return Promise.reject(refusal);
    const names = what(view()!).tags!;
    view.update((p) => ({ ...p!, tags: names.map((name, id) => ({ id, name })) as never }));
    return Promise.resolve('Changed.');
  };
  field = await show(TagsField, { providers: [{ provide: PostService, useValue: { post: view, change } }] });
  if (write) await answer((r) => r.flush(known), '/api/tags');
  await field.fixture.whenStable();
}
const line = () => field.loader.getHarness(MatAutocompleteHarness);
const add = async (text: string) => {
  const input = await line();
  await input.enterText(text);
  await (await input.host()).sendKeys(TestKey.ENTER);
};
const tags = () => view()!.tags.map((t) => t.name);

describe('the tags of a post', () => {
  it('are added with Enter, several with commas, one after the other', async () => {
    await open();
    await add('ice');
    await add('Frost, locks');
    expect(tags()).toEqual(['ice', 'frost', 'locks'].map((t) => expect.stringMatching(new RegExp(t, 'i'))));
    expect(await (await line()).getValue()).toBe('');
  });

  it('are chosen from those there are, the most used first', async () => {
    await open();
    const input = await line();
    await input.focus();
    await input.enterText('e');
    expect(await Promise.all((await input.getOptions()).map((o) => o.getText()))).toEqual([
      expect.stringContaining('propellers'),
      expect.stringContaining('ice'),
    ]);
    await input.selectOption({ text: /^propellers/ });
    expect(tags()).toEqual(['propellers']);
  });

  it('that are nearly an old one say so', async () => {
    await open();
    await (await line()).enterText('propeller');
    expect(field.page.textContent).toContain('There is “propellers” already, on 9 posts.');
    await press(field.loader, 'Use it');
    expect(tags()).toEqual(['propellers']);
  });

  it('are taken away one by one', async () => {
    await open(known);
    const chips = await field.loader.getAllHarnesses(MatChipRowHarness);
    await chips[0]!.remove();
    expect(tags()).toEqual(['propellers']);
  });

  it('that are refused come back into the line', async () => {
    await open();
    refusal = new ApiError(null, 'A post has at most 20 tags.');
    await add('one more');
    expect(await (await line()).getValue()).toBe('one more');
    expect(field.page.querySelector('[role=alert]')!.textContent).toBe('A post has at most 20 tags.');
  });

  it('are only read where one may not write', async () => {
    await open(known, false);
    expect(field.page.querySelector('input')).toBeNull();
    expect(field.page.querySelector('[aria-label^="Remove the tag"]')).toBeNull();
    expect(field.page.textContent).toContain('propellers');
  });
});
