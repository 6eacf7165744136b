import type { IncomingHttpHeaders } from 'node:http';
import policy from './policy.json';

/** What of a request decides whether it may come in. */
export interface Asked {
  method: string;
  /** Path with query, as it was sent. */
  url: string;
  headers: IncomingHttpHeaders;
}

/** Why a request stays outside: an HTTP status and a sentence. */
export interface Refused {
  status: 400 | 403 | 405 | 413 | 414 | 421;
  why: string;
}

/** Names under which this computer knows itself. */
const loopbackNames = new Set(['localhost', '127.0.0.1', '[::1]']);

/** Paths that take files; every other body is small. */
const uploads =
  /^\/api\/(packages|libraries|read|boards(\/pictures)?|jobs\/[^/]{1,20}\/(runs|dumps|attachments)|bench\/[a-z]{1,20})$/;

/** The host of a `Host` header without its port; null for what is none. */
export function hostNameOf(host: string | undefined): string | null {
  if (host === undefined || host.length > 300) return null;
  const found = /^(\[[0-9a-f:.]+\]|[a-z0-9._-]+)(?::\d{1,5})?$/i.exec(host);
  return found ? found[1].toLowerCase() : null;
}

export const pathOf = (url: string): string => url.split('?', 1)[0];

/** Whether what stands behind percent signs is text. */
function isReadable(path: string): boolean {
  try {
    return !decodeURIComponent(path).includes('\0');
  } catch {
    return false;
  }
}

export const isUpload = (url: string): boolean => uploads.test(pathOf(url));

/** Whether the thread that draws the pages reads the body itself. */
export const isForPages = (url: string): boolean => !pathOf(url).startsWith('/api/');

/** How large a body may be. A person types less into a page than a program sends. */
export function maxBytesOf(url: string): number {
  if (isUpload(url)) return policy.maxUploadBytes;
  return isForPages(url) ? policy.maxActionBytes : policy.maxBodyBytes;
}

/**
 * Judges a request before anything is done for it. A page of another site, or of a foreign name that resolves to this
 * computer, has no business here: neither may change anything, nor read what is not a page that a person opens.
 *
 * @param hosts names beside those of loopback that the operator has given to this application, in small letters
 * @returns null for what may come in
 * @see Fetch Metadata Request Headers, W3C; RFC 9110, section 7.2
 */
export function judgeRequest(asked: Asked, hosts: ReadonlySet<string>): Refused | null {
  const { method, url, headers } = asked;
  if (Buffer.byteLength(url) > policy.maxUrlBytes) return { status: 414, why: 'The address is too long.' };
  if (!url.startsWith('/') || url.startsWith('//')) return { status: 400, why: 'Expected a path.' };
  if (!isReadable(pathOf(url))) return { status: 400, why: 'The address has a malformed percent sign.' };
  const name = hostNameOf(headers.host);
  if (name === null) return { status: 400, why: 'The Host header of the request is missing or malformed.' };
  if (!loopbackNames.has(name) && !hosts.has(name))
    return { status: 421, why: `"${name}" is not a name of this server. Its operator can add it with UMBRAL_HOSTS.` };
  if (method === 'GET' || method === 'HEAD') return judgeReading(asked);
  if (method !== 'POST') return { status: 405, why: 'Expected GET or POST.' };
  return judgeOrigin(headers) ?? judgeSize(asked);
}

function judgeReading({ url, headers }: Asked): Refused | null {
  const site = headers['sec-fetch-site'];
  if (site === undefined || site === 'same-origin' || site === 'none') return null;
  const opensPage = headers['sec-fetch-mode'] === 'navigate' && headers['sec-fetch-dest'] === 'document';
  if (opensPage && !pathOf(url).startsWith('/api/')) return null;
  return { status: 403, why: 'This request comes from another site.' };
}

function judgeOrigin(headers: IncomingHttpHeaders): Refused | null {
  const foreign: Refused = { status: 403, why: 'This request comes from another site.' };
  const { origin } = headers;
  const site = headers['sec-fetch-site'];
  if (site !== undefined && site !== 'same-origin') return foreign;
  // Programs name no origin; browsers always do where they send something.
  if (origin === undefined) return null;
  const found = /^https?:\/\/(.+)$/.exec(origin);
  return found && found[1].toLowerCase() === headers.host?.toLowerCase() ? null : foreign;
}

function judgeSize({ url, headers }: Asked): Refused | null {
  const stated = headers['content-length'];
  // A body in pieces is counted as it comes.
  if (stated === undefined) return null;
  const most = maxBytesOf(url);
  if (!/^\d{1,15}$/.test(stated) || Number(stated) > most)
    return {
      status: 413,
      why: `This is too large. At most ${most < 1e6 ? `${most / 1000} kB` : `${Math.round(most / 1e6)} MB`} are accepted here.`,
    };
  return null;
}

/** What the package that zooms the board map puts into a page, by its hash: nothing, and then its rules. */
const mapStyles = [
  "'sha256-47DEQpj8HBSa+/TImW+5JCeuQeRkm5NMpJWZG3hSuFU='",
  "'sha256-/aQdAPrD+kc0v7HnGQTuKBtoP6ZN+lnzOGVJ1Qt6dfw='",
];

/**
 * What a page may load and do: from here alone, scripts with this request's nonce alone.
 *
 * @see Content Security Policy Level 3, W3C
 */
export function contentPolicy(nonce: string, development = false): string {
  return [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'${development ? " 'unsafe-eval'" : ''}`,
    "worker-src 'self' blob:",
    `style-src-elem 'self' ${development ? "'unsafe-inline'" : [`'nonce-${nonce}'`, ...mapStyles].join(' ')}`,
    // Positions and sizes of what is drawn are attributes.
    "style-src-attr 'unsafe-inline'",
    "img-src 'self' data: blob:",
    // A video that was dropped in, played from the page's own memory.
    "media-src 'self' blob:",
    "font-src 'self'",
    "connect-src 'self'",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ');
}

/** Headers of every answer beside the content policy. */
export const everyAnswer: Readonly<Record<string, string>> = {
  'x-content-type-options': 'nosniff',
  'referrer-policy': 'same-origin',
  'x-frame-options': 'DENY',
  'cross-origin-opener-policy': 'same-origin',
  'cross-origin-resource-policy': 'same-origin',
  'permissions-policy': 'camera=(self), microphone=(), geolocation=(), usb=(), serial=(), payment=()',
};
