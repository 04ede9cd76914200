import { Component } from '@angular/core';
import { show } from '../../testing/newsroom';
import { later } from './later';

const done: string[] = [];
@Component({ template: '' })
class Typed {
  readonly tell = later(20, (word: string) => done.push(word));
}
const wait = (ms: number) => new Promise((go) => setTimeout(go, ms));

describe('what is done later', () => {
  beforeEach(() => done.splice(0));

  it('is done once, with what was told last', async () => {
    const { component } = await show(Typed);
    for (const word of ['l', 'lo', 'lock']) component.tell(word);
    expect(done).toEqual([]);
    await wait(60);
    expect(done).toEqual(['lock']);
  });

  it('is not done after its part is gone', async () => {
    const { component, fixture } = await show(Typed);
    component.tell('lock');
    fixture.destroy();
    await wait(60);
    expect(done).toEqual([]);
  });
});
