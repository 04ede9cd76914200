import { TestBed } from '@angular/core/testing';
import { MatAutocompleteHarness } from '@angular/material/autocomplete/testing';
import type { Passage } from '@keyroster/core';
import { show, type Shown } from '../../testing/newsroom';
import { line, press, type } from '../../testing/hands';
import { Unsaved } from '../ui/unsaved';
import { NoteForm } from './note-form';
import { NotesService } from '../posts/notes.service';
import { Staff } from './staff.service';

const passage: Passage = { exact: 'two drops a minute', prefix: '', suffix: '' };
const STAFF = ['Mara Winslow', 'Cyril Fenn', 'Petra Kesh'].map((name, id) => ({ id, name, role: 'editor' }));
let form: Shown<NoteForm>;
let added: unknown[][];
let refusal: Error | null;
const kept = new Map<number | null, string>();
beforeEach(() => kept.clear());
const open = async (inputs: Record<string, unknown>) => {
  added = [];
  refusal = null;
  const add = (...note: unknown[]) => {
    added.push(note);
    return refusal ? Promise.reject(refusal) : Promise.resolve();
  };
  form = await show(NoteForm, {
    inputs,
    providers: [
      {
        provide: NotesService,
        useValue: {
          add,
          storeTyped: (answers: number | null, text: string) => kept.set(answers, text),
          typedFor: (answers: number | null) => kept.get(answers) ?? '',
        },
      },
      { provide: Staff, useValue: { people: () => STAFF, need: () => Promise.resolve() } },
    ],
  });
};
const error = () => form.page.querySelector('mat-error')?.textContent?.trim();

describe('a note that is typed', () => {
  it('goes with the words that it is on, and leaves its field empty', async () => {
    await open({ label: 'Your note', passage });
    await type(form.loader, 'Your note', ' How many is right? ');
    expect(TestBed.inject(Unsaved).any()).toBe(true);
    await press(form.loader, 'Save the note');
    expect(added).toEqual([['How many is right?', passage, null]]);
    expect(await (await line(form.loader, 'Your note')).getValue()).toBe('');
    expect([TestBed.inject(Unsaved).any(), error()]).toEqual([false, undefined]);
  });

  it('offers people by what is typed of their names after an @', async () => {
    await open({ label: 'Your note' });
    const names = await form.loader.getHarness(MatAutocompleteHarness);
    const offered = async () => {
      // The panel shows itself a moment after what it offers.
      await new Promise((done) => setTimeout(done, 10));
      return Promise.all(
        (await names.getOptions()).map(async (o) => (await o.getText()).replace('editor', '')),
      );
    };
    await names.enterText('Ask me@fe');
    expect(await names.isOpen()).toBe(false);
    await names.clear();
    await names.enterText('Ask @');
    expect(await offered()).toEqual(['Mara Winslow', 'Cyril Fenn', 'Petra Kesh']);
    await names.enterText('fe');
    expect(await offered()).toEqual(['Cyril Fenn']);
    await (await names.getOptions())[0]!.click();
    expect(await (await line(form.loader, 'Your note')).getValue()).toBe('Ask @Cyril Fenn ');
    await press(form.loader, 'Save the note');
    expect(added).toEqual([['Ask @Cyril Fenn', null, null]]);
  });

  it('takes up what was typed before its field went out of sight', async () => {
    kept.set(null, 'Is it');
    await open({ label: 'Your note' });
    expect(await (await line(form.loader, 'Your note')).getValue()).toBe('Is it');
    expect(TestBed.inject(Unsaved).any()).toBe(true);
    await type(form.loader, 'Your note', 'Is it so?');
    expect(kept.get(null)).toBe('Is it so?');
    await press(form.loader, 'Save the note');
    expect([added.length, kept.get(null)]).toEqual([1, '']);
  });

  it('answers the note it stands under', async () => {
    await open({ label: 'Answer this note', answers: 12 });
    await type(form.loader, 'Answer this note', 'One.');
    await press(form.loader, 'Answer');
    expect(added).toEqual([['One.', null, 12]]);
  });

  it('needs words, and keeps them when it is refused', async () => {
    await open({ label: 'Your note' });
    await press(form.loader, 'Save the note');
    expect([error(), added]).toEqual(['There are no words in the note yet.', []]);
    refusal = new Error('refused');
    await type(form.loader, 'Your note', 'Is it?');
    await press(form.loader, 'Save the note');
    await form.fixture.whenStable();
    expect(error()).toBeTruthy();
    expect(await (await line(form.loader, 'Your note')).getValue()).toBe('Is it?');
  });
});
