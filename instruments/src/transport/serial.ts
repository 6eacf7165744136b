import { SerialPort } from 'serialport';
import { bytesOf, ConnectionProblem, type Connection, type ConnectionEvents, type Transport } from './transport.ts';

/** A serial port with eight bits and no parity. */
export function serialTransport(path: string, baudRate: number): Transport {
  const where = `${path} at ${baudRate} baud`;
  return {
    where,
    isSerial: true,
    line: path,
    connect: (events: ConnectionEvents) =>
      new Promise<Connection>((resolve, reject) => {
        const port = new SerialPort({ path, baudRate, autoOpen: false });
        let reason: string | null = 'the port disappeared';
        port.on('data', (piece: Buffer) => events.data(piece));
        port.on('error', (error) => (reason = error.message));
        port.on('close', () => events.closed(reason));
        port.open((error) => {
          if (error) return reject(new ConnectionProblem(`${where}: ${sayPortError(error.message, path)}`));
          resolve({
            send: (data) => void port.write(Buffer.from(bytesOf(data))),
            close: () => {
              reason = null;
              port.close();
            },
          });
        });
      }),
  };
}

/** Why a port does not open, and what to do about it. */
function sayPortError(message: string, path: string): string {
  if (/permission denied|EACCES/i.test(message))
    return `no permission. Run "sudo usermod -aG dialout $USER", log out and in again (or "sudo setfacl -m u:$USER:rw ${path}" for now)`;
  if (/lock|busy|EBUSY|temporarily unavailable/i.test(message)) return 'another program has this port open. Close it';
  if (/no such file|ENOENT/i.test(message)) return 'there is no such port. Is it plugged in?';
  if (/baud|EINVAL|invalid argument/i.test(message)) return `the port refused these settings (${message})`;
  return message;
}
