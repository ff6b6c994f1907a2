import { defineConfig } from 'vite';

import { texts } from './texts-plugin';

/**
 * The proof gallery: one script and one style sheet, which are written into each gallery's page.
 */
export default defineConfig({
  plugins: [texts()],
  // A library's build leaves this to who uses it; here that is a browser.
  define: { 'process.env.NODE_ENV': JSON.stringify('production') },
  publicDir: false,
  build: {
    outDir: '../src/winnow/photos/gallery',
    emptyOutDir: true,
    cssCodeSplit: false,
    lib: {
      entry: 'src/gallery/main.ts',
      formats: ['iife'],
      name: 'gallery',
      fileName: () => 'gallery.js',
      cssFileName: 'gallery',
    },
  },
});
