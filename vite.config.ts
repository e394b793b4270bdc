import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig, type UserConfig } from 'vite';

export default defineConfig({
  plugins: [tailwindcss(), sveltekit()],
  // Vite leaves decorators as they are unless told so here; the tsconfig flag alone is not read.
  oxc: { decorator: { legacy: true } },
  worker: { format: 'es' },
  build: { chunkSizeWarningLimit: 900 },
} as UserConfig);
