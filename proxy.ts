import { NextResponse, type NextRequest } from 'next/server';
import { contentPolicy, isOwnHost } from './server/web/strangers';

/** Every page: none under a name that is not this server's, and each with a policy of its own for what it may run. */
export function proxy(request: NextRequest): NextResponse {
  if (!isOwnHost(request.headers.get('host')))
    return new NextResponse(
      'Basil is asked for under a name that is not its own. Open it at the address that it prints at its start, or list the name in BASIL_HOSTS.\n',
      {
        status: 400,
        headers: { 'content-type': 'text/plain; charset=utf-8' },
      },
    );
  const policy = contentPolicy(btoa(crypto.randomUUID()));
  const headers = new Headers(request.headers);
  // The framework takes the nonce for its own scripts from here.
  headers.set('content-security-policy', policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set('content-security-policy', policy);
  return response;
}

export const config = { matcher: ['/((?!api/|_next/static/|_next/image|icon.svg).*)'] };
