import { Failure } from '../../core/units';

/** Names by which this machine is reached from itself. */
const LOOPBACK = /^(localhost|.+\.localhost|127(\.\d{1,3}){3}|\[::1\])$/;

/** Further names that the operator says Basil is reached by: BASIL_HOSTS, with commas between them. */
const listedHosts = (): string[] =>
  (process.env.BASIL_HOSTS ?? '')
    .split(',')
    .map((name) => name.trim().toLowerCase())
    .filter(Boolean);

/** The name in a Host header, without its port; null where it is none. */
function nameOf(host: string | null): string | null {
  try {
    return host === null ? null : new URL(`http://${host}`).hostname.toLowerCase();
  } catch {
    return null;
  }
}

/**
 * Whether a request asks for this server by a name that is its own. A page of another site may have its name resolve to this machine, and
 * would read all there is here as if it came from it.
 */
export function isOwnHost(host: string | null): boolean {
  const name = nameOf(host);
  return name !== null && (LOOPBACK.test(name) || listedHosts().includes(name));
}

/**
 * Basil serves the person at this machine: a page of another site may not drive it, and none may read it under another name. A browser
 * names the asking page in `Origin`; where it does, that has to be this server itself. Throws a `bad-input` {@link Failure}.
 */
export function refuseStrangers(request: Request): void {
  const host = request.headers.get('host') ?? new URL(request.url).host;
  if (!isOwnHost(host))
    throw new Failure(
      'bad-input',
      'Basil is asked for under a name that is not its own.',
      'Open it at the address that it prints at its start, or list the name in BASIL_HOSTS.',
    );
  const origin = request.headers.get('origin');
  if (origin !== null && originHost(origin) !== host)
    throw new Failure('bad-input', 'This request comes from another site.', "Open Basil's own address.");
}

function originHost(origin: string): string | null {
  try {
    return new URL(origin).host;
  } catch {
    // A page without an origin of its own, as in a sandboxed frame, says "null".
    return null;
  }
}

/** What pages may load and run: their own files, and scripts that carry the nonce of this answer. */
export const contentPolicy = (nonce: string): string =>
  [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'wasm-unsafe-eval'`,
    // The component library writes its styles into the page as it draws.
    "style-src 'self' 'unsafe-inline'",
    // Small pictures of sky collections come from their own addresses.
    "img-src 'self' blob: data: http: https:",
    "font-src 'self' data:",
    "connect-src 'self' blob: data:",
    "worker-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ');
