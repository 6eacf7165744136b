import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { addressOf, readNetworks } from './address.ts';
import { contentPolicy, hostNameOf, judgeRequest } from './gate.ts';

const own = new Set(['bench.library.example']);
const host = '127.0.0.1:4300';
const get = (url: string, headers: object = {}) =>
  judgeRequest({ method: 'GET', url, headers: { host, ...headers } }, own);
const post = (url: string, headers: object = {}) =>
  judgeRequest({ method: 'POST', url, headers: { host, 'content-length': '2', ...headers } }, own);

describe('whom a request is for', () => {
  test.each(['127.0.0.1', 'localhost:4300', '[::1]:4300', 'LOCALHOST', 'bench.library.example:443'])(
    '%s is one of our names',
    (name) => expect(get('/', { host: name })).toBeNull(),
  );
  test.each(['evil.example', '127.0.0.1.evil.example', 'localhost.evil.example', '10.0.0.7:4300', 'library.example'])(
    '%s is not, and gets nothing, also where it resolves to this computer',
    (name) => {
      expect(get('/', { host: name })).toMatchObject({ status: 421 });
      expect(post('/api/recorder/arm', { host: name, origin: `http://${name}` })).toMatchObject({ status: 421 });
    },
  );
  test.each([undefined, '', 'a b', 'localhost:99999999', 'localhost@evil.example', 'x'.repeat(400), '127.0.0.1/..'])(
    '%p is no host at all',
    (name) => expect(get('/', { host: name })).toMatchObject({ status: 400 }),
  );
  test('only names that are on the list come in, whatever stands around them', () => {
    fc.assert(
      fc.property(fc.string(), fc.constantFrom('localhost', '127.0.0.1'), fc.string(), (before, name, after) => {
        const asked = hostNameOf(before + name + after);
        const came = get('/', { host: before + name + after }) === null;
        expect(came).toBe(asked !== null && ['localhost', '127.0.0.1', '[::1]', ...own].includes(asked));
      }),
    );
  });
});

describe('where a request comes from', () => {
  test('our own pages change things; others do not, whatever they claim', () => {
    expect(post('/', { origin: `http://${host}`, 'sec-fetch-site': 'same-origin' })).toBeNull();
    expect(post('/')).toBeNull();
    for (const headers of [
      { origin: 'http://evil.example' },
      { origin: 'null' },
      { origin: 'http://127.0.0.1:4301' },
      { origin: 'file://' },
      { origin: `http://${host}.evil.example` },
      { 'sec-fetch-site': 'cross-site' },
      { 'sec-fetch-site': 'same-site', origin: `http://${host}` },
      { 'sec-fetch-site': 'none' },
    ])
      expect(post('/api/recorder/output', headers)).toMatchObject({ status: 403 });
  });

  test('a link from elsewhere opens a page, and nothing else is read from there', () => {
    const cross = { 'sec-fetch-site': 'cross-site' };
    const opening = { ...cross, 'sec-fetch-mode': 'navigate', 'sec-fetch-dest': 'document' };
    expect(get('/jobs/3', opening)).toBeNull();
    expect(get('/jobs/3', { ...opening, 'sec-fetch-dest': 'iframe' })).toMatchObject({ status: 403 });
    expect(get('/api/jobs/3/package', opening)).toMatchObject({ status: 403 });
    expect(get('/api/attachments/1', { ...cross, 'sec-fetch-mode': 'no-cors' })).toMatchObject({ status: 403 });
    expect(get('/api/jobs/3/package', { 'sec-fetch-site': 'none' })).toBeNull();
  });

  test('other methods, odd addresses and long ones are refused', () => {
    for (const method of ['PUT', 'DELETE', 'OPTIONS', 'TRACE', 'CONNECT'])
      expect(judgeRequest({ method, url: '/', headers: { host } }, own)).toMatchObject({ status: 405 });
    expect(get('//evil.example/')).toMatchObject({ status: 400 });
    expect(get('http://evil.example/')).toMatchObject({ status: 400 });
    expect(get(`/${'x'.repeat(9000)}`)).toMatchObject({ status: 414 });
  });
});

describe('how much is taken', () => {
  test('bodies that say their length are small, except where files are taken', () => {
    expect(post('/', { 'content-length': '100000' })).toBeNull();
    // Whatever the form of what is sent: a page reads forms in parts as well as actions.
    expect(post('/jobs/3', { 'content-length': '100001' })).toMatchObject({ status: 413 });
    expect(post('/api/recorder/arm', { 'content-length': '1000000' })).toBeNull();
    expect(post('/', { 'content-length': undefined })).toBeNull();
    expect(post('/', { 'content-length': '-1' })).toMatchObject({ status: 413 });
    for (const path of [
      '/api/packages',
      '/api/libraries?name=x',
      '/api/read?feed=battery',
      '/api/jobs/12/runs',
      '/api/jobs/12/attachments',
    ]) {
      expect(post(path, { 'content-length': '400000000' })).toBeNull();
      expect(post(path, { 'content-length': '600000000' })).toMatchObject({ status: 413 });
      expect(post(path, { 'content-length': undefined })).toBeNull();
    }
    expect(post('/api/recorder/arm', { 'content-length': '2000000' })).toMatchObject({ status: 413 });
  });
});

test('the content policy has the nonce and nothing that runs without it', () => {
  const policy = contentPolicy('abc');
  expect(policy).toContain("script-src 'self' 'nonce-abc' 'strict-dynamic'");
  expect(policy.split('; ').find((p) => p.startsWith('script-src'))).not.toMatch(/unsafe/);
  expect(policy).toContain("frame-ancestors 'none'");
});

test('the rules that the board map brings are allowed by the hash of what the package has now', () => {
  const bundle = readFileSync(require.resolve('react-zoom-pan-pinch'), 'utf8');
  const rules = JSON.parse(/var css_248z = ("(?:[^"\\]|\\.)*");/.exec(bundle)?.[1] ?? '""') as string;
  expect(rules).toContain('transform-origin');
  for (const text of ['', rules])
    expect(contentPolicy('abc')).toContain(`'sha256-${createHash('sha256').update(text).digest('base64')}'`);
});

describe('who asks', () => {
  const proxies = readNetworks('10.20.0.0/16, 127.0.0.1');
  test.each([
    ['192.0.2.9', '203.0.113.5', '192.0.2.9'],
    ['127.0.0.1', '203.0.113.5', '203.0.113.5'],
    ['127.0.0.1', '198.51.100.1, 203.0.113.5, 10.20.3.4', '203.0.113.5'],
    ['::ffff:127.0.0.1', '203.0.113.5', '203.0.113.5'],
    ['127.0.0.1', 'rubbish', '127.0.0.1'],
    ['127.0.0.1', undefined, '127.0.0.1'],
  ])('%s with "%s" is %s', (peer, forwarded, address) => expect(addressOf(peer, forwarded, proxies)).toBe(address));
  test('nobody is trusted where nobody was named', () =>
    expect(addressOf('127.0.0.1', '203.0.113.5', readNetworks(''))).toBe('127.0.0.1'));
  test('what is no network is named', () =>
    expect(() => readNetworks('10.0.0.0/8, bench')).toThrow('"bench" is not a network'));
});

test.each(['/jobs/%E0%A4%A', '/jobs/%', '/%zz', '/jobs/%00'])('%s is no address', (url) =>
  expect(get(url)).toMatchObject({ status: 400 }),
);
