import { chromium, type Browser } from 'playwright-core';

/** Debian's Chromium, headless, with WebGL 2 drawn by software. */
export function openBrowser(): Promise<Browser> {
  return chromium.launch({
    executablePath: process.env.BASIL_TEST_CHROMIUM ?? '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--use-gl=angle',
      '--use-angle=gl-egl',
      '--ignore-gpu-blocklist',
    ],
  });
}
