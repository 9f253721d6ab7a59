// usage: node look.mjs OUT  — one-off pictures while building
import { chromium } from '@playwright/test'
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--headless','--no-sandbox','--disable-gpu','--disable-quic','--no-first-run','--disable-background-networking','--disable-component-update','--disable-sync'] })
const base = process.env.BASE ?? 'http://127.0.0.1:8099'
const ctx = await b.newContext({ viewport: { width: 1280, height: 800 }, baseURL: base })
const p = await ctx.newPage()
p.on('console', m => ['error','warning'].includes(m.type()) && console.log('CONSOLE', m.text()))
p.on('pageerror', e => console.log('PAGEERROR', e.message))
const shot = async (n) => { await p.waitForTimeout(700); await p.screenshot({ path: `/tmp/shot-${n}.png` }); console.log('shot', n) }
const signIn = async (n, w) => { await p.goto('/sign-in'); await p.getByLabel('Name').fill(n); await p.getByLabel('Password').fill(w); await p.getByRole('button', { name: 'Sign in' }).click(); await p.waitForURL(/\/(jobs|yard)/) }
export { p, ctx, b, shot, signIn }
const step = process.argv[2]
const mod = await import(step)
await mod.default({ p, ctx, b, shot, signIn })
await b.close()
