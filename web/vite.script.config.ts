/**
 * Builds what draws figures without a browser, for an engine that has nothing else: one script, and
 * with `--mode pdf` the one that writes PDF.
 */
import vue from '@vitejs/plugin-vue'
import { fileURLToPath, URL } from 'node:url'
import { defineConfig } from 'vite'

export default defineConfig(({ mode }) => ({
  plugins: [vue()],
  publicDir: false,
  resolve: {
    alias: [
      { find: '@', replacement: fileURLToPath(new URL('./src', import.meta.url)) },
      {
        find: /^fflate$/,
        replacement: fileURLToPath(new URL('./src/entries/script/unpacking.ts', import.meta.url)),
      },
    ],
  },
  define: { 'process.env.NODE_ENV': '"production"', 'import.meta': '{}' },
  build: {
    outDir: '../src/yarrowdew/web/script',
    emptyOutDir: mode !== 'pdf',
    lib: {
      entry: `src/entries/script/${mode === 'pdf' ? 'pdf' : 'main'}.ts`,
      name: mode === 'pdf' ? 'scriptPdf' : 'script',
      formats: ['iife'],
      fileName: () => (mode === 'pdf' ? 'pdf.js' : 'script.js'),
    },
  },
}))
