import { answer, failure, type Result } from '../record/errors.ts';
import { once, requestHeader } from '../record/once.ts';
import { forActor, type Needs } from '../work/people/access.ts';
import type { Actor } from '../record/actor.ts';

interface Context<P> {
  params: Promise<P>;
}

/**
 * A route handler for whoever may ask: the one way in which routes are made. What is thrown becomes a status and a
 * sentence.
 *
 * @param handle returns a response of its own, or a value that is answered as JSON
 * @param options.once for what adds something: sent again with the same key it is not added again
 */
export function route<P = Record<string, never>>(
  needs: Needs,
  handle: (request: Request, params: P, actor: Actor) => Promise<unknown>,
  options: { once?: boolean } = {},
): (request: Request, context: Context<P>) => Promise<Response> {
  return async (request, { params }) => {
    try {
      const given = await params;
      const key = options.once ? request.headers.get(requestHeader) : null;
      let own: Response | null = null;
      const result = await forActor(needs, (actor) =>
        once(key, `${request.method} ${new URL(request.url).pathname}`, async (): Promise<Result<unknown>> => {
          const value = await handle(request, given, actor);
          if (!(value instanceof Response)) return { ok: true, value };
          own = value;
          // Nothing that could be answered again.
          return { ok: false, kind: 'missing', message: '' };
        }),
      );
      return own ?? answer(result);
    } catch (error) {
      if (request.signal.aborted) return new Response(null, { status: 499 });
      return answer(failure(error));
    }
  };
}
