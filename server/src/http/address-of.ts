import ipaddr from 'ipaddr.js';
import type { Request } from 'express';

/**
 * Where a request comes from, as limits count it: an IPv4 address, or the network of an IPv6 address, of which one
 * household has 2^64 (RFC 6177).
 */
export function addressOf({ ip }: Pick<Request, 'ip'>): string {
  if (!ip || !ipaddr.isValid(ip)) return 'unknown';
  const address = ipaddr.process(ip);
  return address.kind() === 'ipv4'
    ? address.toString()
    : `${(address as ipaddr.IPv6).parts
        .slice(0, 4)
        .map((part) => part.toString(16))
        .join(':')}::/64`;
}
