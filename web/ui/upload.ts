export type Uploaded<T> =
  { ok: true; value: T } | { ok: false; kind: string; message: string; header?: string[] | null; sample?: string[][] };

/**
 * Sends a file with progress. The server reads as it analyses, so the progress of sending is that of the analysis.
 *
 * @param onProgress share sent, 0 to 1
 */
export function postFile<T>(
  url: string,
  file: Blob,
  onProgress: (share: number) => void,
): { promise: Promise<Uploaded<T>>; cancel: () => void } {
  const request = new XMLHttpRequest();
  const promise = new Promise<Uploaded<T>>((resolve) => {
    request.open('POST', url);
    request.setRequestHeader('content-type', 'application/octet-stream');
    request.setRequestHeader('x-umbral-request', crypto.randomUUID());
    request.upload.onprogress = (event) => onProgress(event.total > 0 ? event.loaded / event.total : 0);
    request.onload = () => {
      try {
        resolve(JSON.parse(request.responseText) as Uploaded<T>);
      } catch {
        resolve({ ok: false, kind: 'unexpected', message: `The server answered ${request.status} without words.` });
      }
    };
    request.onerror = () =>
      resolve({
        ok: false,
        kind: 'unexpected',
        message: 'The server could not be reached. Nothing was saved. Try again.',
      });
    request.onabort = () => resolve({ ok: false, kind: 'cancelled', message: 'Cancelled. Nothing was saved.' });
    request.send(file);
  });
  return { promise, cancel: () => request.abort() };
}
