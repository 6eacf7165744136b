export * from './transport.ts';
export { LineCutter } from './lines.ts';
export { PagePort } from './page.ts';
export { tcpTransport } from './tcp.ts';
export { serialTransport } from './serial.ts';
export { addressOf, isAllowed, readNetwork } from './reach.ts';
export { Pauses } from './pauses.ts';
