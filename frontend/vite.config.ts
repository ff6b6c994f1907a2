import { lingui } from '@lingui/vite-plugin';
import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vitest/config';

import { texts } from './texts-plugin';

export default defineConfig({
  plugins: [texts(), lingui({ failOnCompileError: true }), react(), tailwindcss()],
  // In `make dev` the page comes from here; what it asks, and a token that becomes a cookie, is the
  // server's.
  server: {
    proxy: {
      '^/(api/|.*[?&]token=)': { target: process.env['WINNOW_SERVER'] ?? '', changeOrigin: false },
    },
  },
  // Macros are gone once the page is compiled: there is nothing of them to prepare.
  optimizeDeps: { exclude: ['@lingui/core/macro', '@lingui/react/macro'] },
  build: { outDir: '../src/winnow/web/page', emptyOutDir: true, assetsInlineLimit: 0 },
  // A busy machine is no failure.
  test: {
    environment: 'jsdom',
    setupFiles: ['./src/test-setup.ts'],
    projects: [
      { extends: true, test: { name: 'units', include: ['src/**/*.test.ts'] } },
      {
        extends: true,
        test: {
          name: 'panels',
          include: ['src/**/*.test.tsx'],
          setupFiles: ['./src/testing/setup.ts'],
        },
      },
    ],
    // One document for one file after the other: making a new one takes longer than the tests in
    // it.
    pool: 'threads',
    isolate: false,
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
