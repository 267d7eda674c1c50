import vue from '@vitejs/plugin-vue'
import { fileURLToPath, URL } from 'node:url'
import vuetify from 'vite-plugin-vuetify'
import { defineConfig } from 'vitest/config'

const server = `http://127.0.0.1:${process.env.YARROWDEW_PORT ?? 8420}`

export default defineConfig({
  plugins: [vue(), vuetify({ autoImport: true })],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  build: {
    outDir: '../src/yarrowdew/web',
    emptyOutDir: true,
    chunkSizeWarningLimit: 900,
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            { name: 'vue', test: /node_modules[\\/](@?vue|pinia)/, priority: 2 },
            // Fetched when a PDF is first made.
            {
              name: 'pdf-parts',
              test: /node_modules[\\/](pdfkit|fontkit|linebreak|png-js|@noble|@swc|unicode-|restructure|brotli|clone|dfa|tiny-inflate|base64-js|fast-deep-equal)/,
              priority: 3,
            },
            { name: 'parts', test: /node_modules/, priority: 1 },
          ],
        },
      },
    },
  },
  server: {
    // The guide stands in docs/.
    fs: { allow: ['..'] },
    proxy: { '/api': { target: server, changeOrigin: true, headers: { origin: server } } },
  },
  test: {
    include: ['src/**/*.test.ts'],
    environment: 'node',
    // What is loaded once serves all files; each takes back what it puts in the place of globals.
    pool: 'threads',
    isolate: false,
    // Against a test that never ends, not against a slow machine.
    testTimeout: 30_000,
    // Its components bring their styles along.
    server: { deps: { inline: ['vuetify'] } },
  },
})
