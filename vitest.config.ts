import { defineConfig } from 'vitest/config'
import vue from '@vitejs/plugin-vue'

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'core',
          include: ['core/src/**/*.test.ts', 'core/score/**/*.test.ts'],
          setupFiles: ['scripts/property-seed.mjs'],
          environment: 'node',
          testTimeout: 60_000,
          isolate: false,
        },
      },
      {
        plugins: [vue()],
        test: {
          name: 'web',
          include: ['web/src/**/*.test.ts'],
          setupFiles: ['scripts/property-seed.mjs'],
          environment: 'happy-dom',
          testTimeout: 30_000,
          isolate: false,
        },
      },
      {
        test: {
          name: 'server',
          include: ['server/test/**/*.test.ts'],
          environment: 'node',
          testTimeout: 60_000,
          hookTimeout: 120_000,
          fileParallelism: false,
          isolate: false,
        },
      },
    ],
  },
})
