import { TestBed } from '@angular/core/testing';
import type { FormatView } from '@keyroster/contract';
import { answer, refuse, show, type Shown } from '../../testing/newsroom';
import { choose, line, press, type } from '../../testing/hands';
import { Unsaved } from '../ui/unsaved';
import { FormatForm } from './format-form';
import { TemplateForm } from './template-form';

const interview = {
  id: 2,
  version: 7,
  name: 'Interview',
  hint: '',
  starterText: '## How it began',
  retired: false,
  posts: 4,
  fields: [
    { key: 'who', label: 'Who', kind: 'line', required: true, hint: '', choices: [] },
    { key: 'mood', label: 'Mood', kind: 'choice', required: false, hint: '', choices: ['warm', 'dry'] },
  ],
} as unknown as FormatView;
let form: Shown<FormatForm>;
const open = async (format: FormatView | null, editable = true) => {
  form = await show(FormatForm, { inputs: { format, editable } });
};
const sentTo = (method: 'POST' | 'PATCH', check: (body: Record<string, unknown>) => void) =>
  answer(
    (r) => {
      check(JSON.parse(r.request.body as string) as Record<string, unknown>);
      r.flush(interview);
    },
    method === 'POST' ? '/api/formats' : '/api/formats/2',
    method,
  );
const button = (label: string) => form.page.querySelector<HTMLButtonElement>(`[aria-label="${label}"]`)!;
const alerts = () =>
  [...form.page.querySelectorAll('mat-error, [role=alert]')].map((e) => e.textContent!.trim());

describe('a format', () => {
  it('sends its fields in the order in which they stand', async () => {
    await open(interview);
    button('Mood up').click();
    await type(form.loader, 'Choices of Mood', 'warm, dry, , dreamy');
    await press(form.loader, 'Save the format');
    await sentTo('PATCH', (body) =>
      expect(body['fields']).toEqual([
        { ...interview.fields[1], choices: ['warm', 'dry', 'dreamy'] },
        interview.fields[0],
      ]),
    );
  });

  it('takes a new field, which is typed into at once, and lets one go', async () => {
    await open(interview);
    await press(form.loader, 'Add a field');
    await form.fixture.whenStable();
    expect(document.activeElement).toBe(form.page.querySelector('tbody tr:last-child input'));
    await type(form.loader, 'Name of field 3', 'Their own page');
    await choose(form.loader, 'Kind of Their own page', 'a web address');
    button('Remove Who').click();
    await press(form.loader, 'Save the format');
    await sentTo('PATCH', (body) =>
      expect((body['fields'] as { label: string; kind: string }[]).map((f) => [f.label, f.kind])).toEqual([
        ['Mood', 'choice'],
        ['Their own page', 'link'],
      ]),
    );
  });

  it('needs a name, and a name for each field', async () => {
    await open(null);
    await press(form.loader, 'Save the format');
    expect(alerts()).toEqual(['A format needs a name.']);
    await type(form.loader, 'Name', 'Recipe');
    await press(form.loader, 'Add a field');
    await press(form.loader, 'Save the format');
    expect(alerts()).toHaveLength(1);
    expect(alerts()[0]).toMatch(/field/i);
  });

  it('says at its field what the server refuses, and is still unsaved', async () => {
    await open(interview);
    await type(form.loader, 'Name', 'How-to');
    await press(form.loader, 'Save the format');
    await answer(
      refuse({ detail: 'Taken.', fields: [{ field: 'name', sentence: 'There is one of this name.' }] }),
      '/api/formats/2',
      'PATCH',
    );
    await form.fixture.whenStable();
    expect(alerts()).toEqual(['There is one of this name.']);
    expect(TestBed.inject(Unsaved).any()).toBe(true);
  });

  it('keeps what is typed when it is retired meanwhile', async () => {
    await open(interview);
    await type(form.loader, 'Name', 'Long talk');
    await press(form.loader, 'Retire it');
    await sentTo('PATCH', (body) => expect(body).toEqual({ retired: true }));
    form.fixture.componentRef.setInput('format', { ...interview, retired: true });
    await form.fixture.whenStable();
    expect(await (await line(form.loader, 'Name')).getValue()).toBe('Long talk');
    expect(TestBed.inject(Unsaved).any()).toBe(true);
    await press(form.loader, 'Save the format');
    await sentTo('PATCH', (body) => expect(body['name']).toBe('Long talk'));
    expect(TestBed.inject(Unsaved).any()).toBe(false);
  });

  it('is only read by those who do not manage the blog', async () => {
    await open(interview, false);
    expect(await (await line(form.loader, 'Name')).isDisabled()).toBe(true);
    expect(form.page.querySelector('[type=submit]')).toBeNull();
  });
});

describe('a template', () => {
  const letter = { id: 5, name: 'Letter', text: 'Dear reader,' } as never;

  it('is saved with what was typed, and is not unsaved after', async () => {
    const shown = await show(TemplateForm, { inputs: { of: letter, editable: true } });
    const stored: string[] = [];
    shown.component.stored.subscribe((name) => stored.push(name));
    await type(shown.loader, 'Name', ' ');
    await press(shown.loader, 'Save');
    expect(shown.page.querySelector('mat-error')!.textContent).toContain('A template needs a name.');
    await type(shown.loader, 'Name', 'The letter');
    await press(shown.loader, 'Save');
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toEqual({ name: 'The letter', text: 'Dear reader,' });
        r.flush({});
      },
      '/api/templates/5',
      'PATCH',
    );
    expect(stored).toEqual(['The letter']);
    expect(TestBed.inject(Unsaved).any()).toBe(false);
  });
});
