import base from './playwright.config.ts'
import { defineConfig } from '@playwright/test'

// Draws the pictures in docs/screenshots from the demo data.
export default defineConfig({ ...base, workers: 1, testDir: 'shots' })
