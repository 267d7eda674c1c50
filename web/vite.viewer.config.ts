/** Builds the page that others open as one script and one style sheet, with its fonts inside. */
import vue from '@vitejs/plugin-vue'
import { fileURLToPath, URL } from 'node:url'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [vue()],
  publicDir: false,
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  define: { 'process.env.NODE_ENV': '"production"' },
  build: {
    outDir: '../src/yarrowdew/web/viewer',
    emptyOutDir: true,
    lib: {
      entry: 'src/entries/viewer/main.ts',
      name: 'viewer',
      formats: ['iife'],
      fileName: () => 'viewer.js',
      cssFileName: 'viewer',
    },
  },
})
