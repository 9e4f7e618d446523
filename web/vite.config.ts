import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [react(), tailwindcss()],
  // Fonts stay files: the content policy allows no data: fonts.
  build: { assetsInlineLimit: 0, target: 'es2023' },
});
