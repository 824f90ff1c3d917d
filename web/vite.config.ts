import unoCss from '@unocss/vite'
import vue from '@vitejs/plugin-vue'
import { defineConfig, type Plugin } from 'vite'
import utilities from './uno.config.ts'

/**
 * The board, where most visits begin, is fetched together with the page's own script but run after it: each piece is a task of its own, so that a
 * slow tablet answers in between.
 */
const fetchBoardEarly: Plugin = {
  name: 'fetch-board-early',
  transformIndexHtml: {
    order: 'post',
    handler(_html, { bundle = {} }) {
      const chunks = Object.values(bundle).filter((file) => file.type === 'chunk')
      const wanted = new Set<string>()
      const want = (file: string): void => {
        if (wanted.has(file)) return
        wanted.add(file)
        chunks.find((chunk) => chunk.fileName === file)?.imports.forEach(want)
      }
      for (const chunk of chunks) if (/\/(BoardView\.vue|api\/wire\.ts)$/.test(chunk.facadeModuleId ?? '')) want(chunk.fileName)
      for (const chunk of chunks) if (chunk.isEntry) [chunk.fileName, ...chunk.imports].forEach((file) => wanted.delete(file))
      return [...wanted].map((file) => ({
        tag: 'link',
        attrs: { rel: 'modulepreload', crossorigin: true, href: `/${file}` },
        injectTo: 'head',
      }))
    },
  },
}

export default defineConfig({
  root: import.meta.dirname,
  plugins: [unoCss({ ...utilities, configFile: false }), vue(), fetchBoardEarly],
  worker: { format: 'es' },
  build: { outDir: 'dist', emptyOutDir: true, chunkSizeWarningLimit: 1200, assetsInlineLimit: 0 },
})
