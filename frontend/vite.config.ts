import { lingui } from '@lingui/vite-plugin';
import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vitest/config';

import { texts } from './texts-plugin';

export default defineConfig({
  plugins: [texts(), lingui({ failOnCompileError: true }), react(), tailwindcss()],
  // In `make dev` the page comes from here; what it asks, and a token that becomes a cookie, is the server's.
  server: {
    proxy: {
      '^/(api/|.*[?&]token=)': { target: process.env['WINNOW_SERVER'] ?? '', changeOrigin: false },
    },
  },
  build: { outDir: '../src/winnow/web/page', emptyOutDir: true, assetsInlineLimit: 0 },
  // A busy machine is no failure.
  test: {
    environment: 'jsdom',
    // Each file apart from the others, in threads that stay: starting a process for each takes four times as long.
    pool: 'vmThreads',
    setupFiles: ['./src/test-setup.ts'],
    testTimeout: 60_000,
    coverage: {
      provider: 'v8',
      include: ['src/**/*.{ts,tsx}'],
      exclude: ['src/api/schema.d.ts', 'src/**/*.test.*', 'src/test-setup.ts'],
      reporter: ['text', 'html'],
      reportsDirectory: '../.work/coverage/page',
    },
  },
});
