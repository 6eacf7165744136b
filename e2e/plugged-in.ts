import { createConnection } from 'node:net';
import type { Page } from '@playwright/test';

/**
 * Stand-ins for what a browser reaches of its own computer, put into a page: a serial port, a HID device, a Bluetooth device. Each
 * leads to an instrument of the simulated bench, whose bytes it passes on.
 *
 * @param port of that instrument, on loopback
 * @returns what pulls it out and puts it back
 */
export async function plugIn(page: Page, port: number): Promise<{ pull: () => void; back: () => void }> {
  let arrived: string[] = [];
  let isIn = true;
  let socket = connect();
  function connect() {
    const to = createConnection({ host: '127.0.0.1', port, noDelay: true });
    to.on('data', (bytes: Buffer) => void (isIn && arrived.push(bytes.toString('hex'))));
    to.on('error', () => undefined);
    return to;
  }
  await page.exposeFunction('deviceSent', async () => {
    // A little at a time, as a port does.
    await new Promise((resolve) => setTimeout(resolve, 15));
    const hex = arrived.join('');
    arrived = [];
    return isIn ? hex : null;
  });
  await page.exposeFunction('sendToDevice', (hex: string) => void (isIn && socket.write(Buffer.from(hex, 'hex'))));
  await page.addInitScript(standIns);
  return {
    pull: () => {
      isIn = false;
      socket.destroy();
    },
    back: () => {
      socket = connect();
      isIn = true;
    },
  };
}

/** Runs in the page. */
function standIns(): void {
  const device = window as unknown as {
    deviceSent: () => Promise<string | null>;
    sendToDevice: (hex: string) => Promise<void>;
  };
  const bytesOf = (hex: string): Uint8Array =>
    Uint8Array.from(hex.match(/../g) ?? [], (pair) => Number.parseInt(pair, 16));
  const send = (bytes: Uint8Array): Promise<void> =>
    device.sendToDevice([...bytes].map((b) => b.toString(16).padStart(2, '0')).join(''));
  /** Tells every piece until it is pulled or let go of. */
  const follow = async (tell: (bytes: Uint8Array) => void, isOver: () => boolean): Promise<void> => {
    for (;;) {
      const hex = await device.deviceSent();
      if (hex === null || isOver()) return;
      if (hex !== '') tell(bytesOf(hex));
    }
  };
  const serialPort = {
    readable: null as ReadableStream<Uint8Array> | null,
    writable: null as WritableStream<Uint8Array> | null,
    async open() {
      if ((await device.deviceSent()) === null) throw new Error('the port is not there');
      let isOver = false;
      this.readable = new ReadableStream<Uint8Array>({
        start: (controller) => {
          void follow(
            (bytes) => controller.enqueue(bytes),
            () => isOver,
          ).then(() => !isOver && controller.error(new Error('the device has been lost')));
        },
        cancel: () => {
          isOver = true;
        },
      });
      this.writable = new WritableStream({ write: send });
    },
    close: () => Promise.resolve(),
  };
  const hid = Object.assign(new EventTarget(), {
    requestDevice: () => Promise.resolve([hidDevice]),
  });
  let isHidOpen = false;
  const hidDevice = Object.assign(new EventTarget(), {
    productName: 'Meter on a cable',
    open: () => {
      isHidOpen = true;
      void follow(
        (bytes) => {
          // Reports have a length of their own.
          for (let at = 0; at < bytes.length; at += 32)
            hidDevice.dispatchEvent(
              Object.assign(new Event('inputreport'), { data: new DataView(bytes.slice(at, at + 32).buffer) }),
            );
        },
        () => !isHidOpen,
      ).then(() => hid.dispatchEvent(Object.assign(new Event('disconnect'), { device: hidDevice })));
      return Promise.resolve();
    },
    close: () => {
      isHidOpen = false;
      return Promise.resolve();
    },
    sendReport: (_id: number, bytes: Uint8Array) => send(bytes),
  });
  const characteristic = Object.assign(new EventTarget(), {
    value: undefined as DataView | undefined,
    startNotifications: () => {
      void follow(
        (bytes) => {
          characteristic.value = new DataView(bytes.buffer);
          characteristic.dispatchEvent(new Event('characteristicvaluechanged'));
        },
        () => false,
      ).then(() => bluetoothDevice.dispatchEvent(new Event('gattserverdisconnected')));
      return Promise.resolve();
    },
    writeValueWithoutResponse: send,
  });
  const bluetoothDevice = Object.assign(new EventTarget(), {
    name: 'Meter in the air',
    gatt: {
      connect: () =>
        Promise.resolve({
          getPrimaryService: () => Promise.resolve({ getCharacteristic: () => Promise.resolve(characteristic) }),
        }),
      disconnect: () => void bluetoothDevice.dispatchEvent(new Event('gattserverdisconnected')),
    },
  });
  const put = (name: string, value: unknown): void => {
    Object.defineProperty(navigator, name, { value, configurable: true });
  };
  put('serial', { requestPort: () => Promise.resolve(serialPort) });
  put('hid', hid);
  put('bluetooth', { requestDevice: () => Promise.resolve(bluetoothDevice) });
}
