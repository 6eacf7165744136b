'use client';

/** As the server knows it. */
const header = 'x-umbral-request';

/** Keys of what was sent and not answered, or not yet, by what it was: sent again, it is the same change. */
const unanswered = new Map<string, string>();
const maxUnanswered = 50;

/** What tells one change from another: where it goes and what it says. */
function intentionOf(url: string, init: RequestInit): string | null {
  const action = new Headers(init.headers).get('next-action');
  return typeof init.body === 'string' ? `${url} ${action} ${init.body}` : null;
}

/** A name for what somebody just asked for; the same one where it was asked before and no answer came. */
function keyFor(intention: string | null): string {
  return (intention !== null && unanswered.get(intention)) || crypto.randomUUID();
}

/**
 * Gives every change that this page sends a key, so that one that is sent twice, because an answer was lost or somebody
 * between repeats it, is one change.
 *
 * @param send what sends, such as the window's own `fetch`
 */
export function withRequestKeys(send: typeof fetch): typeof fetch {
  return async (input, init) => {
    if (init?.method?.toUpperCase() !== 'POST' || typeof input !== 'string') return send(input, init);
    const intention = intentionOf(input, init);
    const key = keyFor(intention);
    const headers = new Headers(init.headers);
    headers.set(header, key);
    if (intention !== null && unanswered.size < maxUnanswered) unanswered.set(intention, key);
    const answer = await send(input, { ...init, headers });
    if (intention !== null) unanswered.delete(intention);
    return answer;
  };
}

declare global {
  interface Window {
    umbralKeysRequests?: boolean;
  }
}

if (typeof window !== 'undefined' && 'fetch' in window && !window.umbralKeysRequests) {
  window.umbralKeysRequests = true;
  window.fetch = withRequestKeys(window.fetch.bind(window));
}

/** Loads this on every page. */
export function RequestKeys(): null {
  return null;
}
