import { defineConfig } from 'vitest/config';

/** Pure modules of the pages, without a browser. */
export default defineConfig({ test: { include: ['src/**/*.test.ts'], environment: 'node' } });
