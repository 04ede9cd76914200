import { answer, person, refuse, show, type Shown } from '../../testing/newsroom';
import { choose, press, type } from '../../testing/hands';
import { ReassignForm } from './reassign-form';

const people = [
  person(1, 'Mara Winslow', 'managing editor'),
  person(2, 'Isla Nettle'),
  person(3, 'Dot Pascoe', 'reader'),
  { ...person(4, 'Jun Marlowe'), active: false },
];
const PREVIEW = {
  id: 9,
  state: 'previewed',
  sentence: 'Reassign to Mara Winslow',
  counts: { changes: 2, same: 0, refused: 1, left: 0 },
  chores: 1,
  open: [],
};
let form: Shown<ReassignForm>;
const open = async () => {
  form = await show(ReassignForm, { inputs: { person: people[1], people } });
};
const text = () => form.page.textContent!.replace(/\s+/g, ' ');
async function previewed(preview: object = PREVIEW): Promise<void> {
  await choose(form.loader, 'To whom', 'Mara Winslow');
  await press(form.loader, 'Preview');
  await answer((r) => r.flush(preview), '/api/people/2/reassign', 'POST');
  await answer((r) => r.flush([]), '/api/batches/9/items');
  await form.fixture.whenStable();
}

describe('reassigning what somebody has in hand', () => {
  it('needs somebody who takes over, and offers those who can', async () => {
    await open();
    await press(form.loader, 'Preview');
    expect(form.page.querySelector('[role=alert]')!.textContent).toContain('Choose who takes over.');
    for (const name of ['Isla Nettle', 'Dot Pascoe', 'Jun Marlowe'])
      await expect(choose(form.loader, 'To whom', name)).rejects.toThrow();
  });

  it('is shown before it is written, with the chores that go along', async () => {
    await open();
    await type(form.loader, 'Runs until', '31 Dec 2026');
    await choose(form.loader, 'To whom', 'Mara Winslow');
    await press(form.loader, 'Preview');
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toEqual({ to: 1, from: null, until: '2026-12-31' });
        r.flush(PREVIEW);
      },
      '/api/people/2/reassign',
      'POST',
    );
    await answer((r) => r.flush([]), '/api/batches/9/items');
    await form.fixture.whenStable();
    expect(text()).toContain(
      '2 will change · 0 nothing to do · 1 refused · 1 chore that names them goes along. It can be undone',
    );
    await press(form.loader, 'Reassign 2 posts and 1 chore');
    await answer((r) => r.flush({ ...PREVIEW, state: 'applied' }), '/api/batches/9/apply', 'POST');
    await form.fixture.whenStable();
    expect(text()).toContain('Reassign to Mara Winslow: done in 2 posts and 1 chore.');
  });

  it('can be left, and writes nothing', async () => {
    await open();
    await previewed();
    await press(form.loader, 'Cancel');
    expect(text()).not.toContain('will change');
  });

  it('is not offered any more once something else is chosen than was previewed', async () => {
    await open();
    await previewed();
    await type(form.loader, 'Runs until', '31 Dec 2026');
    expect(text()).not.toContain('will change');
  });

  it('that is refused says why', async () => {
    await open();
    await choose(form.loader, 'To whom', 'Mara Winslow');
    await press(form.loader, 'Preview');
    await answer(refuse({ detail: 'They have nothing in hand.' }), '/api/people/2/reassign', 'POST');
    await form.fixture.whenStable();
    expect(text()).toContain('They have nothing in hand.');
  });
});
