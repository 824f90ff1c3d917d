import { defineConfig } from 'vitest/config'
import vue from '@vitejs/plugin-vue'

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'core',
          include: ['core/src/**/*.test.ts', 'core/score/**/*.test.ts'],
          setupFiles: ['scripts/test-setup.mjs'],
          environment: 'node',
          testTimeout: 180_000,
          isolate: false,
        },
      },
      {
        plugins: [vue()],
        test: {
          name: 'web',
          include: ['web/src/**/*.test.ts'],
          setupFiles: ['scripts/test-setup.mjs'],
          environment: 'happy-dom',
          testTimeout: 90_000,
          isolate: false,
        },
      },
      {
        test: {
          name: 'server',
          include: ['server/test/**/*.test.ts'],
          setupFiles: ['scripts/test-setup.mjs'],
          environment: 'node',
          testTimeout: 240_000,
          hookTimeout: 240_000,
          fileParallelism: false,
          isolate: false,
        },
      },
    ],
  },
})
