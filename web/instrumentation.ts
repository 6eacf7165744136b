interface FailedRequest {
  path: string;
  headers: Record<string, string | string[] | undefined>;
}

/** Once a process, before the first request. */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME !== 'nodejs') return;
  const { startBackground } = await import('./server/edges/background');
  void startBackground();
}

/** What a page could not be made of: logged with the reference that the error page shows and the id of its request. */
export function onRequestError(error: unknown, request: FailedRequest): void {
  const { digest } = (error ?? {}) as { digest?: string };
  globalThis.umbralLog?.error(
    { reference: digest, request: request.headers['x-request-id'], path: request.path, err: error },
    'no page',
  );
}
