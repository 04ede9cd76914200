import { signal } from '@angular/core';
import type { OutletView } from '@keyroster/contract';
import { USUAL_LIMITS } from '@keyroster/core';
import { show, type Shown } from '../../testing/newsroom';
import { choose, line, press, type } from '../../testing/hands';
import { Unsaved } from '../ui/unsaved';
import { TestBed } from '@angular/core/testing';
import { OutletForm } from './outlet-form';
import { OutletsService } from './outlets.service';

const outlet = (parts: Partial<OutletView> = {}): OutletView =>
  ({
    id: 4,
    name: 'Towline',
    kind: 'short-post network',
    protocol: 'micropub',
    address: 'https://towline.example/micropub',
    settings: {},
    limits: USUAL_LIMITS['short-post network'],
    voice: '',
    knowsKeys: false,
    closed: false,
    hasCredentials: true,
    feeds: null,
    ...parts,
  }) as OutletView;

let form: Shown<OutletForm>;
let asked: unknown[];
async function open(given: OutletView | null, manages = true): Promise<void> {
  asked = [];
  const service = {
    error: signal(''),
    store: (...args: unknown[]) => (asked.push(args), Promise.resolve(outlet())),
  };
  form = await show(OutletForm, {
    inputs: { outlet: given, manages },
    providers: [{ provide: OutletsService, useValue: service }],
  });
}
const save = () => form.page.querySelector<HTMLButtonElement>('button[type=submit]')!;

describe('an outlet’s form', () => {
  it('asks before it is left while something is changed and not saved', async () => {
    await open(outlet());
    const unsaved = TestBed.inject(Unsaved);
    expect(unsaved.any()).toBe(false);
    await type(form.loader, 'Name', 'The towline');
    expect(unsaved.any()).toBe(true);
    await type(form.loader, 'Name', 'Towline');
    expect(unsaved.any()).toBe(false);
  });

  it('never shows what is kept sealed', async () => {
    await open(outlet());
    const secret = await line(form.loader, 'Access token');
    expect([await secret.getValue(), await secret.getPlaceholder(), await secret.getType()]).toEqual([
      '',
      'kept; type to replace',
      'password',
    ]);
  });

  it('asks for what the way there needs', async () => {
    await open(null);
    await choose(form.loader, 'How pieces reach it', 'Mail: it takes letters');
    for (const label of ['The list’s e-mail address', 'Mail server', 'Port', 'Password'])
      expect(await (await line(form.loader, label)).isDisabled()).toBe(false);
    await choose(form.loader, 'How pieces reach it', 'Webhook: we send it a signed message');
    await expect(line(form.loader, 'Mail server')).rejects.toThrow('no field');
    expect(await (await line(form.loader, 'Signing secret')).getType()).toBe('password');
  });

  it('takes the usual limits of a kind along, and counts in words people know', async () => {
    await open(null);
    await choose(form.loader, 'Kind', 'newsletter');
    expect(form.page.textContent).not.toContain('graphemes');
    expect(await (await line(form.loader, 'Length at most')).getValue()).toBe(
      String(USUAL_LIMITS.newsletter.length?.max ?? ''),
    );
  });

  it('reads quiet hours as people type them', async () => {
    await open(outlet({ limits: { ...USUAL_LIMITS['short-post network'], quiet: null } }));
    await type(form.loader, 'Quiet from', '10 pm');
    expect(await (await line(form.loader, 'until')).getValue()).toBe('07:00');
    await type(form.loader, 'until', '6.30');
    await press(form.loader, 'Save changes');
    expect(asked).toEqual([
      [expect.objectContaining({ id: 4 }), expect.objectContaining({ name: 'Towline' })],
    ]);
    expect(asked[0]).toMatchObject([{ id: 4 }, { limits: { quiet: { from: '22:00', until: '06:30' } } }]);
  });

  it('is only read by those who do not manage outlets', async () => {
    await open(outlet(), false);
    expect(await (await line(form.loader, 'Name')).isDisabled()).toBe(true);
    expect(await (await line(form.loader, 'Length at most')).isDisabled()).toBe(true);
    expect(save()).toBeNull();
  });
});
