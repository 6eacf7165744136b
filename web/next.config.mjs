import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));

/** @type {import('next').NextConfig} */
const config = {
  transpilePackages: ['@umbral/core', '@umbral/instruments'],
  serverExternalPackages: ['knex', 'pdfmake', 'pg', 'pg-boss', 'pino', 'sharp'],
  outputFileTracingRoot: root,
  turbopack: { root },
  experimental: {
    // What nobody downloads need not be small, and what is built once needs no cache: 35 s instead of 57.
    serverMinification: false,
    turbopackSourceMaps: false,
    turbopackFileSystemCacheForBuild: false,
    // The door takes less, and says so in words.
    serverActions: { bodySizeLimit: '2mb' },
  },
  // `npm test` checks them, and a build that nobody waits for checks nothing.
  typescript: { ignoreBuildErrors: true },
  poweredByHeader: false,
  devIndicators: false,
};

export default config;
