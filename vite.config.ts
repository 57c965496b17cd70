import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  publicDir: 'web/public',
  plugins: [react()],
  build: {
    outDir: 'dist/web',
    emptyOutDir: true,
    target: 'es2023',
    reportCompressedSize: false,
    chunkSizeWarningLimit: 900,
  },
  worker: { format: 'es' },
  server: {
    port: 4781,
    strictPort: true,
    proxy: {
      '/api': {
        target: process.env['TAVROX_DEV_SERVER'] ?? 'http://127.0.0.1:4780',
        changeOrigin: true,
        configure: (proxy) => {
          // Pages of the development server stand in for the server's own origin.
          proxy.on('proxyReq', (request) => {
            request.setHeader('Origin', `http://${request.getHeader('host') as string}`);
          });
          // A server that goes away must end the live feed, or the page would wait for ever.
          proxy.on('proxyRes', (answer, _request, response) => {
            answer.on('close', () => response.destroy());
          });
        },
      },
    },
  },
});
