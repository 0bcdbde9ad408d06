import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { type Plugin, defineConfig } from 'vite';

/** The messages' styles come with ours: a style element made by a script is not allowed in the page. */
const messageStyles: Plugin = {
  name: 'message-styles',
  transform(code, id) {
    if (!/\/sonner\/dist\/index\.mjs$/.test(id)) return null;
    const without = code.replace(/^__insertCSS\(".*"\);?$/m, '');
    if (without === code) throw new Error('sonner no longer inserts its styles where it did: look again');
    return { code: without, map: null };
  },
};

export default defineConfig({
  root: 'web',
  plugins: [react(), tailwindcss(), messageStyles],
  // the charts' library is large and comes only where a chart is looked at
  build: { outDir: '../dist', emptyOutDir: true, assetsInlineLimit: 0, chunkSizeWarningLimit: 1500 },
  server: { proxy: { '/api': 'http://127.0.0.1:8080' } },
});
