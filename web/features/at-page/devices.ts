'use client';

/** A device that this browser's computer has, as bytes. */
export interface PluggedIn {
  write(bytes: Uint8Array): Promise<void>;
  /** Lets go of it; `ended` follows. */
  close(): Promise<void>;
}

/** What is told of a device. */
interface DeviceEvents {
  bytes(piece: Uint8Array): void;
  /** @param why in words; empty where it was closed from here */
  ended(why: string): void;
}

/** How a device is reached, as its instrument is described. */
export interface DeviceWay {
  way: 'serial' | 'hid' | 'bluetooth';
  baudRate?: number | null;
  service?: string;
  notify?: string;
  write?: string;
}

/** A device that was chosen, and can be opened again after it was pulled. */
export interface Chosen {
  name: string;
  open(events: DeviceEvents): Promise<PluggedIn>;
}

// What browsers have of these, as far as it is used here; the language's own descriptions leave them out.
interface SerialPortHere {
  readable: ReadableStream<Uint8Array> | null;
  writable: WritableStream<Uint8Array> | null;
  open(options: { baudRate: number }): Promise<void>;
  close(): Promise<void>;
}
interface HidDevice extends EventTarget {
  productName: string;
  opened: boolean;
  open(): Promise<void>;
  close(): Promise<void>;
  sendReport(id: number, data: Uint8Array): Promise<void>;
}
interface Characteristic extends EventTarget {
  value?: DataView;
  startNotifications(): Promise<unknown>;
  writeValueWithoutResponse(data: Uint8Array): Promise<void>;
}
interface BluetoothDevice extends EventTarget {
  name?: string;
  gatt: {
    connect(): Promise<{
      getPrimaryService(id: string | number): Promise<{
        getCharacteristic(id: string | number): Promise<Characteristic>;
      }>;
    }>;
    disconnect(): void;
  };
}
interface Reaching {
  serial?: { requestPort(): Promise<SerialPortHere> };
  hid?: EventTarget & { requestDevice(of: { filters: object[] }): Promise<HidDevice[]> };
  bluetooth?: {
    requestDevice(of: { acceptAllDevices: true; optionalServices: (string | number)[] }): Promise<BluetoothDevice>;
  };
}

const reaching = (): Reaching => navigator as unknown as Reaching;

const ways = { serial: 'serial ports', hid: 'HID devices', bluetooth: 'Bluetooth devices' } as const;

/** Why this browser cannot reach a kind of device; null where it can. */
export function whyNotHere(way: DeviceWay['way']): string | null {
  if (typeof navigator === 'undefined' || reaching()[way]) return null;
  return isSecureContext
    ? `This browser cannot reach ${ways[way]}. Use another browser, or the computer that Umbral runs on.`
    : `Browsers allow ${ways[way]} only on https pages. Ask the person who set up Umbral.`;
}

/**
 * Asks the person which device it is; the browser shows the list.
 *
 * @returns null where none was chosen
 */
export async function chooseDevice(of: DeviceWay): Promise<Chosen | null> {
  try {
    return await choosers[of.way](of);
  } catch (error) {
    if ((error as DOMException).name === 'NotFoundError') return null;
    throw error;
  }
}

const usualBaud = 115_200;

const choosers: Record<DeviceWay['way'], (of: DeviceWay) => Promise<Chosen | null>> = {
  serial: async ({ baudRate }) => {
    const port = await reaching().serial?.requestPort();
    return port ? { name: 'serial port', open: (events) => openSerial(port, baudRate ?? usualBaud, events) } : null;
  },
  hid: async () => {
    const [device] = (await reaching().hid?.requestDevice({ filters: [] })) ?? [];
    return device ? { name: device.productName || 'HID device', open: (events) => openHid(device, events) } : null;
  },
  bluetooth: async ({ service = '', notify = '', write = '' }) => {
    const of = { service: idOf(service), notify: idOf(notify), write: write === '' ? null : idOf(write) };
    const device = await reaching().bluetooth?.requestDevice({
      acceptAllDevices: true,
      optionalServices: [of.service],
    });
    return device
      ? { name: device.name ?? 'Bluetooth device', open: (events) => openBluetooth(device, of, events) }
      : null;
  },
};

const shortId = 4;
const idOf = (text: string): string | number =>
  text.length === shortId ? Number.parseInt(text, 16) : text.toLowerCase();

async function openSerial(port: SerialPortHere, baudRate: number, events: DeviceEvents): Promise<PluggedIn> {
  await port.open({ baudRate });
  let isClosing = false;
  const reader = port.readable?.getReader();
  const writer = port.writable?.getWriter();
  const read = async (): Promise<void> => {
    let why = '';
    try {
      for (;;) {
        const { value, done } = (await reader?.read()) ?? { value: undefined, done: true };
        if (done) break;
        if (value) events.bytes(value);
      }
    } catch (error) {
      why = (error as Error).message;
    }
    reader?.releaseLock();
    writer?.releaseLock();
    await port.close().catch(() => undefined);
    events.ended(isClosing ? '' : why || 'it was unplugged');
  };
  void read();
  return {
    write: async (bytes) => void (await writer?.write(bytes)),
    close: async () => {
      isClosing = true;
      await reader?.cancel().catch(() => undefined);
    },
  };
}

async function openHid(device: HidDevice, events: DeviceEvents): Promise<PluggedIn> {
  await device.open();
  const heard = (event: Event): void => {
    const { data } = event as Event & { data: DataView };
    events.bytes(new Uint8Array(data.buffer, data.byteOffset, data.byteLength));
  };
  const gone = (event: Event): void => {
    if ((event as Event & { device: HidDevice }).device === device) end('it was unplugged');
  };
  const end = (why: string): void => {
    device.removeEventListener('inputreport', heard);
    reaching().hid?.removeEventListener('disconnect', gone);
    events.ended(why);
  };
  device.addEventListener('inputreport', heard);
  reaching().hid?.addEventListener('disconnect', gone);
  return {
    write: (bytes) => device.sendReport(0, bytes),
    close: async () => {
      await device.close().catch(() => undefined);
      end('');
    },
  };
}

async function openBluetooth(
  device: BluetoothDevice,
  of: { service: string | number; notify: string | number; write: string | number | null },
  events: DeviceEvents,
): Promise<PluggedIn> {
  const server = await device.gatt.connect();
  const service = await server.getPrimaryService(of.service);
  const notify = await service.getCharacteristic(of.notify);
  const write = of.write === null ? notify : await service.getCharacteristic(of.write);
  let why = 'it is out of reach';
  notify.addEventListener('characteristicvaluechanged', () => {
    const { value } = notify;
    if (value) events.bytes(new Uint8Array(value.buffer, value.byteOffset, value.byteLength));
  });
  device.addEventListener('gattserverdisconnected', () => events.ended(why), { once: true });
  await notify.startNotifications();
  return {
    write: (bytes) => write.writeValueWithoutResponse(bytes),
    close: () => {
      why = '';
      device.gatt.disconnect();
      return Promise.resolve();
    },
  };
}
