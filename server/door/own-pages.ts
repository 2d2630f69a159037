import { hostname, networkInterfaces } from 'node:os';
import type { Request, RequestHandler } from 'express';
import { Refusal } from '../platform/http';

const LOOPBACK = ['localhost', '127.0.0.1', '[::1]'];

/** Whether only this machine reaches a server that listens there. */
export function isLoopback(host: string): boolean {
  return host === 'localhost' || host === '::1' || /^(::ffff:)?127\./.test(host);
}

/** The name of a Host header, without its port. */
const nameIn = (host: string) => host.replace(/:\d*$/, '').toLowerCase();

/** Headers of whoever passes requests on (RFC 7239, RFC 9110, and what is usual beside them). */
const PASSED_ON = /^(forwarded|via|x-forwarded-.+|x-real-ip)$/;

/**
 * Whether nobody passed a request on, it came over loopback, and it asks for a name that only this machine has. HTTP/1.0
 * is spoken by no browser, but by those who pass requests on without saying so.
 */
export function isAtMachine({ socket, headers, httpVersion }: Pick<Request, 'socket' | 'headers' | 'httpVersion'>) {
  return (
    isLoopback(socket.remoteAddress ?? '') &&
    httpVersion !== '1.0' &&
    LOOPBACK.includes(nameIn(headers.host ?? '')) &&
    !Object.keys(headers).some((name) => PASSED_ON.test(name))
  );
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
    if (!names.has(nameIn(host)))
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
