import { Failure, type FailureCode } from '../../core/units';

const STATUS: Record<FailureCode, number> = {
  'bad-input': 400,
  'not-found': 404,
  conflict: 409,
  'too-large': 413,
  cancelled: 409,
  fault: 500,
};

type Params<P> = { params: Promise<P> };

/**
 * Basil serves the person at this machine: a page of another site may not drive it. A browser names the asking page in
 * `Origin`; where it does, that has to be this server itself.
 */
function refuseStrangers(request: Request): void {
  const origin = request.headers.get('origin');
  if (origin && new URL(origin).host !== request.headers.get('host')) {
    throw new Failure('bad-input', 'This request comes from another site.', "Open Basil's own address.");
  }
}

/**
 * Makes a route handler of a function: its value is answered as JSON (or as it is, where it is a Response), and what it
 * throws as `{ error: { code, message, remedy } }` with the status that fits.
 */
export function answer<P>(
  work: (request: Request, params: P) => Promise<unknown>,
): (request: Request, context: Params<P>) => Promise<Response> {
  return async (request, { params }) => {
    try {
      refuseStrangers(request);
      const result = await work(request, await params);
      return result instanceof Response ? result : Response.json(result ?? {});
    } catch (error) {
      const failure =
        error instanceof Failure
          ? error
          : new Failure('fault', 'Something went wrong on our side.', 'Try again; the log of the server has more.');
      if (failure !== error) console.error(error);
      return Response.json(
        { error: { code: failure.code, message: failure.message, remedy: failure.remedy } },
        { status: STATUS[failure.code] },
      );
    }
  };
}

/** The JSON body of a request. Throws a `bad-input` {@link Failure}. */
export async function readJson(request: Request): Promise<Record<string, unknown>> {
  try {
    const value: unknown = await request.json();
    if (typeof value === 'object' && value !== null) return value as Record<string, unknown>;
  } catch {
    // falls through to the refusal
  }
  throw new Failure('bad-input', 'The request is not JSON.', 'Send an object as JSON.');
}

const UUID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

/** The id, checked for its form, so that a mistyped address is "not found" and never reaches the database. */
export function checkId(id: string): string {
  if (!UUID.test(id)) throw new Failure('not-found', 'There is no such thing here.', 'Go back to the shelf.');
  return id;
}
