import type { OutletView } from '@keyroster/contract';
import { encrypt, decrypt } from './encrypt.js';
import { room, outlets, call, outlet, useOutlets } from './testing.js';

useOutlets();

describe('outlets', () => {
  it('keep credentials sealed, and never say them', async () => {
    const row = await room
      .db('outlets')
      .where({ id: outlets.get('towline')!.id })
      .first<{ credentials: Buffer }>('credentials');
    expect(row!.credentials.toString('latin1')).not.toContain('towline-token');
    expect(JSON.stringify((await call('chief', 'get', '/api/outlets')).body)).not.toContain('towline-token');
    expect(
      ((await call('writer', 'get', '/api/outlets')).body as OutletView[]).every(
        (o) => o.address === '' && Object.keys(o.settings).length === 0,
      ),
    ).toBe(true);
    const sealed = await room.db.transaction((trx) => encrypt(trx, { token: 'x' }));
    sealed[sealed.length - 1]! ^= 1;
    await expect(decrypt(room.db, sealed)).rejects.toThrow();
  });

  it('are the managing editor’s to add, with sentences for what is missing', async () => {
    expect((await call('editor', 'post', '/api/outlets', outlet('slipway', 'special'))).status).toBe(403);
    expect(
      (
        await call('chief', 'post', '/api/outlets', {
          ...outlet('slipway', 'special'),
          name: 'X',
          address: 'nowhere',
        })
      ).body.detail,
    ).toBe('Give the address where it takes pieces; it begins with https://.');
    expect(
      (
        await call('chief', 'post', '/api/outlets', {
          ...outlet('slipway', 'newsletter'),
          name: 'Y',
          protocol: 'mail',
          address: 'list@a.example',
        })
      ).body.detail,
    ).toBe('Give the mail server.');
    const twice = await call('chief', 'post', '/api/outlets', {
      ...outlet('slipway', 'special'),
      name: outlets.get('towline')!.name.toUpperCase(),
    });
    expect([twice.status, twice.body.detail]).toEqual([409, 'There is already an outlet of that name.']);
  });
});
