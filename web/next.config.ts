import type { NextConfig } from 'next';
import { join } from 'node:path';

const root = join(__dirname, '..');

const config: NextConfig = {
  transpilePackages: ['@umbral/core', '@umbral/instruments'],
  serverExternalPackages: ['knex', 'pdfmake', 'pg', 'pg-boss', 'pino', 'sharp'],
  outputFileTracingRoot: root,
  turbopack: { root },
  poweredByHeader: false,
  devIndicators: false,
};

export default config;
