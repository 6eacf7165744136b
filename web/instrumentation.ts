interface FailedRequest {
  path: string;
  headers: Record<string, string | string[] | undefined>;
}

/** What a page could not be made of: logged with the reference that the error page shows and the id of its request. */
export function onRequestError(error: unknown, request: FailedRequest): void {
  const { digest } = (error ?? {}) as { digest?: string };
  globalThis.umbralLog?.error(
    { reference: digest, request: request.headers['x-request-id'], path: request.path, err: error },
    'no page',
  );
}
