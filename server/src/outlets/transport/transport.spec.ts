import { isOpenAddress } from './call.js';
import { outcomeOf } from './transport.js';

describe('what an outlet’s answer means', () => {
  const answer = (status: number, headers: Record<string, string> = {}) =>
    outcomeOf('Towline', { status, headers, body: '' });

  it.each([500, 502, 504, 507, 503])('%i may have come after the piece did', (status) => {
    expect(answer(status).outcome).toBe('unsure');
  });

  it('503 that says when to come again took nothing (RFC 9110, section 15.6.4)', () => {
    expect(answer(503, { 'retry-after': '120' })).toMatchObject({ outcome: 'again', afterSeconds: 120 });
    expect(answer(429, { 'retry-after': '7' })).toMatchObject({ outcome: 'again', afterSeconds: 7 });
    expect(answer(422)).toMatchObject({ outcome: 'no' });
  });
});

describe('addresses that outlets may have', () => {
  // IANA IPv4 and IPv6 Special-Purpose Address Registries; notations of RFC 4291, 6052 and 3056.
  it.each([
    '127.0.0.1',
    '10.1.2.3',
    '172.16.0.1',
    '192.168.1.1',
    '169.254.169.254',
    '100.64.0.1',
    '0.0.0.0',
    '192.0.2.1',
    '198.18.0.1',
    '203.0.113.5',
    '224.0.0.1',
    '240.0.0.1',
    '255.255.255.255',
    '::1',
    '::',
    'fe80::1',
    'fc00::1',
    'fd12::1',
    'ff02::1',
    '2001:db8::1',
    '::ffff:127.0.0.1',
    '::ffff:7f00:1',
    '::ffff:0:127.0.0.1',
    '64:ff9b::7f00:1',
    '64:ff9b::a00:1',
    '2002:7f00:1::',
    '2002:a00:1::',
    '2001:0:1::1',
    '::127.0.0.1',
    'fec0::1',
    '100::1',
    'not an address',
    '',
  ])('are not %s', (address) => {
    expect(isOpenAddress(address)).toBe(false);
  });
  it.each(['93.184.216.34', '8.8.8.8', '2606:4700:4700::1111', '::ffff:8.8.8.8', '64:ff9b::808:808'])(
    'may be %s',
    (address) => {
      expect([address, isOpenAddress(address)]).toEqual([address, address !== '64:ff9b::808:808']);
    },
  );
});
