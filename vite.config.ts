import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';
import { noEval } from './script/no-eval.ts';

/** Cross-origin isolation, so that workers can share memory. */
const isolation = {
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
};

export default defineConfig({
  root: 'app',
  plugins: [react()],
  // Only the delivery worker encodes.
  worker: { format: 'es', plugins: () => [noEval] },
  build: { outDir: '../dist', emptyOutDir: true, target: 'es2023', chunkSizeWarningLimit: 1200 },
  server: { headers: isolation },
  preview: { headers: isolation },
});
