import { answer, failure } from './errors.ts';
import { forActor, type Needs } from './people/access.ts';
import type { Actor } from './people/actor.ts';

interface Context<P> {
  params: Promise<P>;
}

/**
 * A route handler for whoever may ask: the one way in which routes are made. What is thrown becomes a status and a
 * sentence.
 *
 * @param handle returns a response of its own, or a value that is answered as JSON
 */
export function route<P = Record<string, never>>(
  needs: Needs,
  handle: (request: Request, params: P, actor: Actor) => Promise<unknown>,
): (request: Request, context: Context<P>) => Promise<Response> {
  return async (request, { params }) => {
    try {
      const given = await params;
      const value = await forActor(needs, (actor) => handle(request, given, actor));
      return value instanceof Response ? value : answer({ ok: true, value });
    } catch (error) {
      if (request.signal.aborted) return new Response(null, { status: 499 });
      return answer(failure(error));
    }
  };
}
