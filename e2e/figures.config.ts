import base from './playwright.config.ts'
import { defineConfig } from '@playwright/test'

// Measures the bench in the browser for `make bench`; it asserts nothing.
export default defineConfig({ ...base, workers: 1, testDir: 'figures', timeout: 600_000 })
