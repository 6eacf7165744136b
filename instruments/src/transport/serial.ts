import { SerialPort } from 'serialport';
import { LineCutter } from './lines.ts';
import { ConnectionProblem, type Connection, type ConnectionEvents, type Transport } from './transport.ts';

/** A serial port, eight bits, no parity, a line at a time. */
export function serialTransport(path: string, baudRate: number): Transport {
  const where = `${path} at ${baudRate} baud`;
  return {
    where,
    connect: (events: ConnectionEvents) =>
      new Promise<Connection>((resolve, reject) => {
        const port = new SerialPort({ path, baudRate, autoOpen: false });
        const cutter = new LineCutter((line) => events.line(line));
        let reason: string | null = 'the port disappeared';
        port.on('data', (piece: Buffer) => cutter.push(piece.toString('latin1')));
        port.on('error', (error) => (reason = error.message));
        port.on('close', () => events.closed(reason));
        port.open((error) => {
          if (error) return reject(new ConnectionProblem(`${where}: ${error.message}`));
          resolve({
            send: (text) => void port.write(text, 'latin1'),
            close: () => {
              reason = null;
              port.close();
            },
          });
        });
      }),
  };
}
