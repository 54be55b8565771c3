import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

/** Cross-origin isolation, so that workers can share memory. */
const isolation = {
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
};

export default defineConfig({
  root: 'app',
  plugins: [react()],
  worker: { format: 'es' },
  build: { outDir: '../dist', emptyOutDir: true, target: 'es2023', chunkSizeWarningLimit: 1200 },
  server: { headers: isolation },
  preview: { headers: isolation },
});
