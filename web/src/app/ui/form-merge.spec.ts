import { FormArray, FormControl, FormGroup } from '@angular/forms';
import { FormMerge } from './form-merge';

interface Values {
  name: string;
  days: number | null;
  links: string[];
  post: { id: number; stage: string };
}
const start: Values = { name: 'Lamps', days: 3, links: ['a'], post: { id: 1, stage: 'draft' } };

describe('a form that others save, too', () => {
  let form: FormGroup<{
    name: FormControl<string>;
    days: FormControl<number | null>;
    links: FormArray<FormControl<string>>;
    post: FormControl<Values['post']>;
  }>;
  let merge: FormMerge<Values>;
  beforeEach(() => {
    const text = (value: string) => new FormControl(value, { nonNullable: true });
    form = new FormGroup({
      name: text(''),
      days: new FormControl<number | null>(null),
      links: new FormArray<FormControl<string>>([]),
      post: new FormControl({ id: 0, stage: '' }, { nonNullable: true }),
    });
    merge = new FormMerge<Values>(form, {
      labels: { name: 'Name', days: 'Days', links: 'Links', post: 'Post' },
      draw: {
        links: (links) => {
          form.controls.links.clear();
          for (const link of links) form.controls.links.push(text(link));
        },
      },
      decided: { post: (post) => post.id },
      say: { links: (links) => links.join(', ') },
    });
    merge.meet(start);
  });
  const typed = (values: Partial<Pick<Values, 'name' | 'days'>>) => {
    form.patchValue(values);
    form.markAsDirty();
  };

  it('follows them in what nobody touched, and keeps what was typed', () => {
    typed({ name: 'Lamps and locks' });
    merge.meet({ ...start, days: 5, links: ['a', 'b'] });
    expect(form.getRawValue()).toEqual({ ...start, name: 'Lamps and locks', days: 5, links: ['a', 'b'] });
    expect([merge.meanwhile(), merge.isUnsaved()]).toEqual([[], true]);
  });

  it('shows both where both changed the same, until one is chosen', () => {
    typed({ name: 'Mine', days: 9 });
    merge.meet({ ...start, name: 'Theirs', days: null });
    expect(form.getRawValue()).toMatchObject({ name: 'Mine', days: 9 });
    expect(merge.meanwhile().map((m) => [m.label, m.theirs])).toEqual([
      ['Name', '“Theirs”'],
      ['Days', 'empty'],
    ]);
    expect([merge.mustChoose(), merge.asked()]).toEqual([true, 1]);
    merge.choose('name', true);
    merge.choose('days', false);
    expect([merge.mustChoose(), merge.asked()]).toEqual([false, 0]);
    expect(merge.meanwhile()).toEqual([]);
    expect(form.getRawValue()).toMatchObject({ name: 'Mine', days: null });
    expect(merge.isUnsaved()).toBe(true);
    // What was kept is not asked about again while they change nothing more of it.
    merge.meet({ ...start, name: 'Theirs', days: null, links: [] });
    expect([merge.meanwhile(), form.value.name, form.value.links]).toEqual([[], 'Mine', []]);
    merge.meet({ ...start, name: 'Theirs again', days: null, links: [] });
    expect(merge.meanwhile().map((m) => m.theirs)).toEqual(['“Theirs again”']);
  });

  it('has nothing to choose where both wrote the same, or they went back', () => {
    typed({ name: 'Same' });
    merge.meet({ ...start, name: 'Same' });
    expect([merge.meanwhile(), merge.isUnsaved()]).toEqual([[], false]);
    typed({ name: 'Mine' });
    merge.meet({ ...start, name: 'Theirs' });
    merge.meet({ ...start, name: 'Mine' });
    expect([merge.meanwhile(), merge.isUnsaved()]).toEqual([[], false]);
  });

  it('takes for a change what somebody decides, not what is told beside it', () => {
    typed({ name: 'Mine' });
    merge.meet({ ...start, post: { id: 1, stage: 'published' } });
    expect(form.value.post).toEqual({ id: 1, stage: 'published' });
    form.controls.post.setValue({ id: 2, stage: 'draft' });
    merge.meet({ ...start, post: { id: 1, stage: 'withdrawn' } });
    expect([merge.meanwhile(), form.value.post]).toEqual([[], { id: 2, stage: 'draft' }]);
  });

  it('keeps what was typed while a save was on its way', () => {
    typed({ name: 'Sent ' });
    const sent = form.getRawValue();
    typed({ name: 'Sent and more' });
    merge.saved(sent);
    merge.meet({ ...start, name: 'Sent' });
    expect(form.value.name).toBe('Sent and more');
    expect(merge.isUnsaved()).toBe(true);
  });

  it('shows what came back of what was sent, beside what was typed since', () => {
    typed({ name: ' Sent ', days: 4 });
    const sent = merge.values();
    form.controls.days.setValue(5);
    merge.saved(sent, { ...start, name: 'Sent', days: 4 });
    expect([form.value.name, form.value.days, merge.isUnsaved()]).toEqual(['Sent', 5, true]);
    // It is no other's value that it would have to be chosen from.
    merge.meet({ ...start, name: 'Sent', days: 4 });
    expect([form.value.days, merge.meanwhile()]).toEqual([5, []]);
  });

  it('has nothing unsaved once it is saved or what it is about is gone', () => {
    typed({ name: 'Sent ' });
    merge.saved(form.getRawValue());
    expect([merge.isUnsaved(), form.dirty]).toEqual([false, false]);
    merge.meet({ ...start, name: 'Sent' });
    expect(form.value.name).toBe('Sent');
    typed({ name: 'More' });
    merge.forget();
    expect(merge.isUnsaved()).toBe(false);
  });
});
