import { show } from '../../testing/newsroom';
import { line, press, type } from '../../testing/hands';
import { PromptLine, type LinePrompt } from './prompt-line';

const asked: LinePrompt = {
  about: 'Name this version',
  label: 'Name',
  value: 'As sent to the lock keepers',
  max: 60,
  done: 'Save the name',
};

describe('one line that is asked for', () => {
  it('stands there as it was, and is given back without the spaces around it', async () => {
    const dialog = await show(PromptLine, { data: asked });
    expect(await (await line(dialog.loader, 'Name')).getValue()).toBe(asked.value);
    await type(dialog.loader, 'Name', '  Before the flood ');
    await press(dialog.loader, 'Save the name');
    expect(dialog.closed).toEqual(['Before the flood']);
  });

  it('is not given back while it is empty, and its field says so', async () => {
    const dialog = await show(PromptLine, { data: asked });
    await type(dialog.loader, 'Name', '   ');
    await press(dialog.loader, 'Save the name');
    expect(dialog.closed).toEqual([]);
    expect(dialog.page.textContent).toContain('Name is empty.');
  });
});
