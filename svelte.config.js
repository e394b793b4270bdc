import adapter from '@sveltejs/adapter-node';
import { vitePreprocess } from '@sveltejs/vite-plugin-svelte';

/** @type {import('@sveltejs/kit').Config} */
export default {
  preprocess: vitePreprocess({ script: false }),
  kit: {
    adapter: adapter(),
    // Requests of other sites are refused in the hooks, whatever their form, and in JSON under /api.
    csrf: { trustedOrigins: ['*'] },
    files: { lib: 'src/ui', hooks: { server: 'src/server/hooks' } },
    csp: {
      mode: 'auto',
      directives: {
        'default-src': ['self'],
        // The script sandbox is WebAssembly; nothing else may be compiled at run time.
        'script-src': ['self', 'wasm-unsafe-eval'],
        'style-src': ['self', 'unsafe-inline'],
        'img-src': ['self', 'data:', 'blob:'],
        'worker-src': ['self'],
        'connect-src': ['self'],
        'object-src': ['none'],
        'base-uri': ['none'],
        'frame-ancestors': ['none'],
        'form-action': ['self'],
      },
    },
  },
};
