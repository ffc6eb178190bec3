import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';
import { compression } from 'vite-plugin-compression2';

export default defineConfig({
  // The server puts a <base> into the page, so that Gaveta can be mounted at any path.
  base: './',
  plugins: [
    react(),
    tailwindcss(),
    // Packed once at the build, so that the server only picks one; fonts are packed in themselves.
    compression({ algorithms: ['brotliCompress', 'gzip'], include: /\.(js|css|svg|json)$/, threshold: 1000 }),
  ],
  worker: { format: 'es' },
  build: { chunkSizeWarningLimit: 2000 },
});
