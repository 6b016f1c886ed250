import tailwindcss from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vite'

const at = (path: string) => fileURLToPath(new URL(path, import.meta.url))

const isolated = {
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
}

export default defineConfig({
  root: at('.'),
  plugins: [react(), tailwindcss()],
  worker: {
    format: 'es',
    rollupOptions: {
      output: {
        // the server gives this one worker a policy of its own
        entryFileNames: (chunk: { facadeModuleId?: string | null }) =>
          chunk.facadeModuleId?.includes('libraw-wasm')
            ? 'assets/raw-library-[hash].js'
            : 'assets/[name]-[hash].js',
      },
    },
  },
  build: { outDir: at('../../dist/web'), emptyOutDir: true, target: 'es2022', chunkSizeWarningLimit: 900 },
  server: { headers: isolated, proxy: { '/api': 'http://127.0.0.1:4717' } },
})
