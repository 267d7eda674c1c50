import { fileURLToPath, URL } from 'node:url'
import { defineConfig } from 'vite'

const path = (relative: string) => fileURLToPath(new URL(relative, import.meta.url))

export default defineConfig({
  resolve: { alias: { '@': path('../src') } },
  build: {
    outDir: path('../../build/bench'),
    lib: {
      entry: path('marks.ts'),
      formats: ['iife'],
      name: 'benchMarks',
      fileName: () => 'marks.js',
    },
  },
})
