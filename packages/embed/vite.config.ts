import { defineConfig } from 'vite';

export default defineConfig({
  build: {
    // One script beside the web application, which serves both.
    outDir: '../web/dist',
    emptyOutDir: false,
    lib: { entry: 'src/script.ts', formats: ['es'], fileName: () => 'embed.js' },
  },
});
