import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';
import { VitePWA } from 'vite-plugin-pwa';
import { handbook } from './script/handbook.ts';
import { licences } from './script/licences.ts';
import { noEval } from './script/no-eval.ts';

const shipped = licences();

/** Cross-origin isolation, so that workers can share memory. */
const isolation = {
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
};

export default defineConfig({
  root: 'app',
  plugins: [
    react(),
    handbook,
    shipped.page,
    // Everything that is built is kept by the browser, so that it starts without the server. A new version waits until it is wanted
    // (app/shell/offline.ts).
    VitePWA({
      registerType: 'prompt',
      injectRegister: false,
      manifest: {
        name: 'Zanahoria',
        short_name: 'Zanahoria',
        description: 'Hand-paint the albedo of a 3D model with light, shadow and ambient occlusion built in.',
        start_url: '/',
        display: 'standalone',
        background_color: '#f2f1ef',
        theme_color: '#f2f1ef',
        icons: [{ src: '/icon.svg', sizes: 'any', type: 'image/svg+xml', purpose: 'any' }],
      },
      workbox: {
        globPatterns: ['**/*.{js,css,html,svg,wasm,woff2,png,zip,glb,json}'],
        maximumFileSizeToCacheInBytes: 16 * 2 ** 20,
        navigateFallback: '/index.html',
        navigateFallbackDenylist: [/^\/health/, /^\/jobs/, /^\/metrics/],
        // Names of built files hold their hash.
        dontCacheBustURLsMatching: /^assets\//,
      },
    }),
  ],
  // Only the delivery worker encodes.
  worker: { format: 'es', plugins: () => [noEval, shipped.worker] },
  build: { outDir: '../dist', emptyOutDir: true, target: 'es2023', chunkSizeWarningLimit: 1200 },
  server: { headers: isolation },
  preview: { headers: isolation },
});
