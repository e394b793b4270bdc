import { hostname, networkInterfaces } from 'node:os';

/** Every name this machine's loopback goes by. */
const LOOPBACK = ['localhost', '127.0.0.1', '[::1]'];

const addresses = (): string[] =>
  Object.values(networkInterfaces()).flatMap((list) =>
    (list ?? []).map(({ address, family }) => (family === 'IPv6' ? `[${address.split('%')[0]!}]` : address)),
  );

let known: ReadonlySet<string> | null = null;

/**
 * The hosts this server answers to: `ALLOWED_HOSTS`, the address it listens on, and this machine's own names where it
 * listens on all of them. A page of another site that has its name point here is none of these.
 */
const allowedHosts = (): ReadonlySet<string> => {
  if (known) return known;
  const listens = process.env['HOST'] ?? '127.0.0.1';
  const everywhere = listens === '0.0.0.0' || listens === '::';
  const listed = (process.env['ALLOWED_HOSTS'] ?? '').split(',').map((each) => each.trim().toLowerCase());
  const own = everywhere
    ? [...addresses(), hostname().toLowerCase(), `${hostname().toLowerCase()}.local`]
    : [];
  known = new Set([...LOOPBACK, listens.toLowerCase(), ...listed.filter(Boolean), ...own]);
  return known;
};

/** True where a Host header, or an origin's host, names this server. */
export const isOwnHost = (host: string | null): boolean => {
  const name = host?.toLowerCase().replace(/:\d+$/, '');
  return name !== undefined && name !== '' && allowedHosts().has(name);
};
