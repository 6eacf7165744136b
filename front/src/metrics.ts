import { createServer, type Server } from 'node:http';
import { collectDefaultMetrics, Counter, Gauge, Histogram, Registry } from 'prom-client';

/** What this web process counts, in the Prometheus text format. */
export class Metrics {
  readonly registry = new Registry();
  private readonly requests = new Histogram({
    name: 'umbral_request_seconds',
    help: 'Time to answer a request',
    labelNames: ['kind', 'status'],
    buckets: [0.01, 0.03, 0.1, 0.3, 1, 3, 10],
    registers: [this.registry],
  });
  private readonly refused = new Counter({
    name: 'umbral_refused_total',
    help: 'Requests refused by the front server',
    labelNames: ['status'],
    registers: [this.registry],
  });
  readonly open = new Gauge({
    name: 'umbral_open_requests',
    help: 'Requests in progress, including event streams',
    registers: [this.registry],
  });

  constructor() {
    collectDefaultMetrics({ register: this.registry });
  }

  answered(path: string, status: number, seconds: number): void {
    const kind = path.startsWith('/_next/') ? 'file' : path.startsWith('/api/') ? 'api' : 'page';
    this.requests.observe({ kind, status: `${Math.floor(status / 100)}xx` }, seconds);
  }

  refuse(status: number): void {
    this.refused.inc({ status: String(status) });
  }

  /** Serves the figures on loopback alone. */
  listen(port: number): Promise<Server> {
    const server = createServer((request, response) => {
      if (request.url !== '/metrics') return response.writeHead(404).end();
      void this.registry.metrics().then((text) => {
        response.writeHead(200, { 'content-type': this.registry.contentType }).end(text);
      });
    });
    return new Promise((resolve, reject) => {
      server.once('error', reject);
      server.listen(port, '127.0.0.1', () => resolve(server));
    });
  }
}
