import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = dirname(fileURLToPath(import.meta.url));

/** @type {import('next').NextConfig} */
export default {
  outputFileTracingRoot: root,
  turbopack: { root },
  serverExternalPackages: ['pg', 'kysely', 'pg-boss', 'sharp', 'pino', 'pino-roll', 'watlas'],
  // `npm test` checks types; a start need not wait for it.
  typescript: { ignoreBuildErrors: true },
  poweredByHeader: false,
  // Code and answers; what is packed already, as levels, images and stems are, has no type that is compressed.
  compress: true,
  devIndicators: false,
  headers: () => [
    {
      source: '/:path*',
      headers: [
        { key: 'X-Content-Type-Options', value: 'nosniff' },
        { key: 'X-Frame-Options', value: 'DENY' },
        { key: 'Referrer-Policy', value: 'no-referrer' },
        { key: 'Permissions-Policy', value: 'camera=(), microphone=(), geolocation=(), payment=(), usb=()' },
        { key: 'Cross-Origin-Resource-Policy', value: 'same-origin' },
      ],
    },
  ],
};
