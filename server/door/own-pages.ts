import { hostname, networkInterfaces } from 'node:os';
import type { RequestHandler } from 'express';
import { Refusal } from '../platform/http';

const LOOPBACK = ['localhost', '127.0.0.1', '[::1]'];

/** Whether only this machine reaches a server that listens there. */
export function isLoopback(host: string): boolean {
  return host === 'localhost' || host === '::1' || /^(::ffff:)?127\./.test(host);
}

/** Addresses of this machine in its networks, IPv4 first. */
export function networkAddresses(): string[] {
  const all = Object.values(networkInterfaces()).flatMap((own) => (own ?? []).filter((a) => !a.internal));
  return [...all.filter((a) => a.family === 'IPv4'), ...all.filter((a) => a.family === 'IPv6')].map((a) =>
    a.family === 'IPv6' ? `[${a.address}]` : a.address,
  );
}

/** Names under which a server may be asked that listens on `host`. @param more further ones, as somebody set them up */
export function ownNames(host: string, more: readonly string[] = []): ReadonlySet<string> {
  const names = [...LOOPBACK, ...more];
  if (!isLoopback(host)) {
    const own = hostname().toLowerCase();
    names.push(host, own, `${own}.local`, ...networkAddresses());
  }
  return new Set(names.map((n) => n.toLowerCase()));
}

const FOREIGN = 'This request comes from another site’s page, which may not work here. Open the app itself.';

/**
 * Lets in only requests that name this server and come from its own pages, or from no page at all: any website can have
 * a browser send requests here, and give itself a name that points here.
 */
export function onlyOwnPages(names: ReadonlySet<string>): RequestHandler {
  return (req, _res, next) => {
    const { host = '', origin } = req.headers;
    const name = host.replace(/:\d*$/, '').toLowerCase();
    if (!names.has(name))
      throw new Refusal(403, 'This server does not go by that name. Open the address that ./start printed.', 'host');
    if (origin !== undefined && origin.replace(/^https?:\/\//, '').toLowerCase() !== host.toLowerCase())
      throw new Refusal(403, FOREIGN, 'origin');
    const from = req.headers['sec-fetch-site'];
    const isRead = req.method === 'GET' || req.method === 'HEAD';
    const isPage = isRead && !req.path.startsWith('/api');
    if ((from === 'cross-site' || from === 'same-site') && !isPage) throw new Refusal(403, FOREIGN, 'origin');
    next();
  };
}
