import { type LookupAddress, lookup } from 'node:dns';
import { type IncomingMessage, request as overHttp } from 'node:http';
import { request as overHttps } from 'node:https';
import { BlockList, type LookupFunction, isIP } from 'node:net';

// Asking what a person named an address of: never this machine or its network, whatever a name stands for at that moment.

// apart: the one list would take every IPv4 address for one that is mapped into IPv6
const within = { ipv4: new BlockList(), ipv6: new BlockList() };
for (const [network, bits] of [
  ['0.0.0.0', 8],
  ['10.0.0.0', 8],
  ['100.64.0.0', 10],
  ['127.0.0.0', 8],
  ['169.254.0.0', 16],
  ['172.16.0.0', 12],
  ['192.0.0.0', 24],
  ['192.168.0.0', 16],
  ['198.18.0.0', 15],
  ['224.0.0.0', 4],
  ['240.0.0.0', 4],
] as const)
  within.ipv4.addSubnet(network, bits, 'ipv4');
for (const [network, bits] of [
  ['::', 96],
  ['::ffff:0:0', 96],
  ['64:ff9b::', 96],
  ['100::', 64],
  ['2002::', 16],
  ['fc00::', 7],
  ['fe80::', 10],
  ['fec0::', 10],
  ['ff00::', 8],
] as const)
  within.ipv6.addSubnet(network, bits, 'ipv6');

/** Whether an address is of this machine, its network, or of no single machine outside. */
export const isInside = (address: string): boolean => {
  const family = isIP(address);
  const kind = family === 6 ? 'ipv6' : 'ipv4';
  return family === 0 || within[kind].check(address, kind);
};

export class InsideAddress extends Error {}

/** Looks a name up and gives only addresses outside: the connection goes to what was looked at. */
const lookupOutside: LookupFunction = (name, options, done) =>
  lookup(name, { ...options, all: true }, (error, found: LookupAddress[]) => {
    if (error) return done(error, '', 0);
    const [first] = found;
    if (!first || found.some((a) => isInside(a.address))) return done(new InsideAddress(name), '', 0);
    if (options.all) (done as (error: null, all: LookupAddress[]) => void)(null, found);
    else done(null, first.address, first.family);
  });

export interface Outside {
  readonly status: number;
  readonly body: AsyncIterable<Uint8Array>;
}

/** Gets a page of data; nobody is followed elsewhere. `trusted`: the operator named the service, so it may be of this network. */
export function fetchOutside(url: URL, signal: AbortSignal, trusted: boolean): Promise<Outside> {
  const host = url.hostname.replace(/^\[|\]$/g, '');
  if (!['http:', 'https:'].includes(url.protocol)) return Promise.reject(new InsideAddress(host));
  if (!trusted && isIP(host) !== 0 && isInside(host)) return Promise.reject(new InsideAddress(host));
  const ask = url.protocol === 'https:' ? overHttps : overHttp;
  return new Promise((found, failed) => {
    const asked = ask(
      url,
      {
        signal,
        // a connection of its own: none is kept to a place that was looked up before
        agent: false,
        headers: { accept: 'application/json', 'accept-encoding': 'identity' },
        ...(trusted ? {} : { lookup: lookupOutside }),
      },
      (response: IncomingMessage) => found({ status: response.statusCode ?? 0, body: response }),
    );
    asked.on('error', failed);
    asked.end();
  });
}
