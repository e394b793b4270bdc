import { defineConfig } from '@playwright/test';

const FLAGS = [
  ...['--no-sandbox', '--disable-quic', '--no-first-run', '--disable-background-networking'],
  ...['--disable-component-update', '--disable-sync'],
  // WebGL 2 on a software renderer: no graphics card is needed, and every machine draws the same.
  ...['--use-gl=angle', '--use-angle=swiftshader', '--enable-unsafe-swiftshader'],
  ...['--enable-unsafe-webgpu', '--use-webgpu-adapter=swiftshader'],
  // The page around the stage is put together without that renderer, which takes a third less of a processor.
  '--disable-gpu-compositing',
];

export default defineConfig({
  testDir: 'e2e',
  testMatch: '*.spec.ts',
  // One more than the cores it was tried on: a test that waits for a picture or a save leaves its core to another.
  workers: 3,
  retries: 0,
  // Ends what hangs; nothing is decided by how long it takes.
  timeout: 180_000,
  expect: { timeout: 60_000 },
  reporter: process.env['PLAYWRIGHT_JSON_OUTPUT_NAME'] ? [['list'], ['json']] : [['list']],
  use: {
    baseURL: process.env['BASE_URL'] ?? 'http://127.0.0.1:4310',
    viewport: { width: 1280, height: 800 },
    launchOptions: { executablePath: '/usr/bin/chromium', args: FLAGS },
  },
});
