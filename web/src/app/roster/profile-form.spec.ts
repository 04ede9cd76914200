import type { PersonPage } from '@keyroster/contract';
import { answer, refuse, show, type Shown } from '../../testing/newsroom';
import { line, press, type } from '../../testing/hands';
import { ProfileForm } from './profile-form';

const page = (parts: object = {}) =>
  ({
    id: 2,
    name: 'Isla Nettle',
    zone: null,
    biography: 'Walks.',
    links: [{ label: 'Boat log', url: 'https://log.example' }],
    pictureId: 5,
    ...parts,
  }) as unknown as PersonPage;
let form: Shown<ProfileForm>;
let changed: PersonPage[];
const open = async () => {
  changed = [];
  form = await show(ProfileForm, { inputs: { person: page() } });
  form.component.changed.subscribe((p) => changed.push(p));
};
const sent = (check: (body: unknown) => void, reply = page()) =>
  answer(
    (r) => {
      check(JSON.parse(r.request.body as string));
      r.flush(reply);
    },
    '/api/people/2/profile',
    'PATCH',
  );
const value = async (label: string) => (await line(form.loader, label)).getValue();

describe('what readers are told of a person', () => {
  it('is saved with the links that say something, and without a picture that was taken away', async () => {
    await open();
    await press(form.loader, 'Remove it');
    await press(form.loader, 'Add a link');
    await press(form.loader, 'Add a link');
    await type(form.loader, 'Address of link 3', 'https://reeds.example');
    await type(form.loader, 'Time zone', 'Europe/Oslo');
    await press(form.loader, 'Save');
    await sent((body) =>
      expect(body).toEqual({
        name: 'Isla Nettle',
        zone: 'Europe/Oslo',
        biography: 'Walks.',
        pictureId: null,
        links: [
          { label: 'Boat log', url: 'https://log.example' },
          { label: '', url: 'https://reeds.example' },
        ],
      }),
    );
    expect(changed).toHaveLength(1);
  });

  it('keeps what is being typed when somebody else saved', async () => {
    await open();
    await type(form.loader, 'Biography', 'Walks, and counts lamps.');
    form.fixture.componentRef.setInput('person', page({ biography: 'Changed elsewhere.' }));
    await form.fixture.whenStable();
    expect(await value('Biography')).toBe('Walks, and counts lamps.');
    expect(form.page.textContent).toContain('It is now “Changed elsewhere.”.');
    await press(form.loader, 'Save');
    expect(form.page.textContent).toContain('Choose between your version and theirs first.');
    await press(form.loader, 'Use theirs');
    expect(await value('Biography')).toBe('Changed elsewhere.');
  });

  it('shows what was saved elsewhere while nothing is typed', async () => {
    await open();
    form.fixture.componentRef.setInput('person', page({ biography: 'Changed elsewhere.', links: [] }));
    await form.fixture.whenStable();
    expect(await value('Biography')).toBe('Changed elsewhere.');
    await expect(line(form.loader, 'Name of link 1')).rejects.toThrow();
  });

  it('says at its field what the server does not take', async () => {
    await open();
    await type(form.loader, 'Name', '');
    await press(form.loader, 'Save');
    await answer(
      refuse({
        detail: 'The name is missing.',
        fields: [{ field: 'name', sentence: 'The name is missing.' }],
      }),
      '/api/people/2/profile',
      'PATCH',
    );
    await form.fixture.whenStable();
    expect(form.page.textContent).toContain('The name is missing.');
    expect(changed).toEqual([]);
  });

  it('has at most eight links', async () => {
    await open();
    for (let n = 1; n < 8; n++) await press(form.loader, 'Add a link');
    await expect(press(form.loader, 'Add a link')).rejects.toThrow();
    await press(form.loader, 'Remove');
    await press(form.loader, 'Add a link');
  });
});
