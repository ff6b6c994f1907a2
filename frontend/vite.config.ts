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
  // Macros are gone once the page is compiled: there is nothing of them to prepare.
  optimizeDeps: { exclude: ['@lingui/core/macro', '@lingui/react/macro'] },
  build: { outDir: '../src/winnow/web/page', emptyOutDir: true, assetsInlineLimit: 0 },
  // A busy machine is no failure.
  test: {
    environment: 'jsdom',
    setupFiles: ['./src/test-setup.ts'],
    projects: [
      {
        extends: true,
        // Each file apart from the others, in threads that stay: starting one for each takes four times as long.
        test: { name: 'units', include: ['src/**/*.test.ts'], pool: 'vmThreads' },
      },
      {
        extends: true,
        // What stands in for the server needs more than those threads have.
        test: {
          name: 'panels',
          include: ['src/**/*.test.tsx'],
          pool: 'threads',
          setupFiles: ['./src/testing/setup.ts'],
        },
      },
    ],
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
