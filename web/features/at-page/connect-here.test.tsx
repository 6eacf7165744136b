import { screen, waitFor } from '@testing-library/react';
import { show } from '@/testing/show';
import { ConnectHere } from './connect-here';
import { passOn } from './passing';

const station = {
  key: 'meter',
  name: 'Inline meter',
  kind: 'meter' as const,
  atPage: { kind: 'browser' as const, way: 'serial' as const, baudRate: 9600 },
};

/** The recorder behind the page: what it was asked, and what it answers. A second pull waits for something to send, for ever. */
const asked: { does: string; pieces?: [number, string][] }[] = [];
let toSend: string[] = [];
let refusesWith = '';
beforeEach(() => {
  asked.length = 0;
  [toSend, refusesWith] = [[], ''];
  global.fetch = jest.fn((_url: string, { body }: { body: string }) => {
    const given = JSON.parse(body) as { does: string };
    asked.push(given);
    const values: Record<string, object> = { open: { lastWords: ['4f'] }, pull: { send: toSend } };
    if (given.does === 'pull' && asked.filter((a) => a.does === 'pull').length > 1) return new Promise(() => undefined);
    const answer =
      refusesWith === ''
        ? { ok: true, value: values[given.does] ?? {} }
        : { ok: false, kind: 'input', message: refusesWith };
    return Promise.resolve({ ok: answer.ok, json: () => Promise.resolve(answer) });
  }) as never;
});

/** A serial port that says what it is made to say. */
function aPort() {
  const written: number[][] = [];
  let tell: (bytes: Uint8Array) => void = () => undefined;
  let fail: (why: string) => void = () => undefined;
  let waiting: ((of: { value?: Uint8Array; done: boolean }) => void)[] = [];
  const port = {
    readable: {
      getReader: () => ({
        read: () =>
          new Promise((resolve, reject) => {
            waiting.push(resolve);
            tell = (value) => waiting.splice(0).forEach((w) => w({ value, done: false }));
            fail = (why) => reject(new Error(why));
          }),
        cancel: () => {
          waiting.splice(0).forEach((w) => w({ done: true }));
          waiting = [];
          return Promise.resolve();
        },
        releaseLock: () => undefined,
      }),
    },
    writable: {
      getWriter: () => ({
        write: (bytes: Uint8Array) => Promise.resolve(void written.push([...bytes])),
        releaseLock: () => undefined,
      }),
    },
    open: jest.fn(() => Promise.resolve()),
    close: () => Promise.resolve(),
  };
  return { port, written, tell: (b: Uint8Array) => tell(b), fail: (why: string) => fail(why) };
}

const has = (of: object): void => {
  Object.defineProperty(navigator, 'serial', { value: of, configurable: true });
};

test('a browser that cannot reach ports says so instead of failing', () => {
  Object.defineProperty(navigator, 'serial', { value: undefined, configurable: true });
  Object.defineProperty(window, 'isSecureContext', { value: true, configurable: true });
  show(<ConnectHere station={station} />);
  expect(screen.getByRole('button').getAttribute('aria-disabled')).toBe('true');
  expect(screen.getByText(/This browser cannot reach serial ports/)).toBeTruthy();
});

test('an instrument that is reached from the recorder shows nothing here', () => {
  const { container } = show(<ConnectHere station={{ ...station, atPage: null }} />);
  expect(container.textContent).toBe('');
});

test('what arrives is passed on with its age, what is to be sent is written, and letting go closes both', async () => {
  const { port, written, tell } = aPort();
  has({ requestPort: () => Promise.resolve(port) });
  toSend = ['2a'];
  const { person } = show(<ConnectHere station={station} />);
  await person.click(screen.getByRole('button', { name: 'Connect Inline meter here' }));
  await screen.findByText(/Connected by this window/);
  expect(port.open).toHaveBeenCalledWith({ baudRate: 9600 });
  tell(Uint8Array.of(0xa5, 0x5a));
  await waitFor(() => expect(asked.some((a) => a.does === 'pass')).toBe(true));
  const [[age, hex]] = asked.find((a) => a.does === 'pass')?.pieces ?? [[NaN, '']];
  expect([hex, age >= 0 && age < 1]).toEqual(['a5 5a', true]);
  await waitFor(() => expect(written[0]).toEqual([0x2a]));
  await person.click(screen.getByRole('button', { name: 'Disconnect Inline meter' }));
  await screen.findByRole('button', { name: 'Connect Inline meter here' });
  // What switches it off is sent before it is let go of.
  expect(written.some((w) => w[0] === 0x4f)).toBe(true);
  expect(asked.some((a) => a.does === 'close')).toBe(true);
});

test('another window has it: that is said, and it is not tried again', async () => {
  const { port } = aPort();
  has({ requestPort: () => Promise.resolve(port) });
  refusesWith = 'Another window is connected to Inline meter.';
  const { person } = show(<ConnectHere station={station} />);
  await person.click(screen.getByRole('button', { name: 'Connect Inline meter here' }));
  expect((await screen.findByRole('alert')).textContent).toContain('Another window is connected');
});

test('nobody chose a device: nothing happens', async () => {
  has({ requestPort: () => Promise.reject(Object.assign(new Error('none chosen'), { name: 'NotFoundError' })) });
  await passOn('nothing', { way: 'serial' });
  expect(asked).toEqual([]);
});
