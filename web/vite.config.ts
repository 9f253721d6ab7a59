import { fileURLToPath } from 'node:url'
import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vitest/config'
import vuetify from 'vite-plugin-vuetify'

// Parts of the message file come with what shows them, and what only the command line says
// stays out of the page. A star stands for one name.
const PARTS: Record<string, string[]> = {
  yard: [
    'desk',
    'job',
    'scene',
    'debriefs',
    'print',
    'first.job-yard',
    ...[
      'spent',
      'needs',
      'to-debrief',
      'at-bench',
      'over',
      'jobs',
      'fetching',
      'none',
      'job',
      'anew',
      'nobody',
      'give-to',
      'give',
      'everybody',
      'machines',
      'add-machine',
      'disagrees',
      'disagree',
      'agree',
      'sheet-of',
      'sheet',
      'to-engine',
    ].map((k) => `yard.${k}`),
    'sheet',
    'own',
    'figure',
    'inside',
    'statement',
    'complaint',
    'problem.procedure',
    'problem.scenario',
    'problem.catalogue',
    'problem.machine',
    'problem.diagnosis',
    'problem.input',
    ...[
      'no-such-class',
      'another-machine-yard-code',
      'machine-keeps-its-family',
      'machine-not-in-yard',
      'no-engine-family',
      'not-an-apprentice',
      'revision-not-there',
      'revision-for-another-family',
      'closes-before-it-opens',
      'no-such-scenario',
      'own-figures-changed-since-you-opened',
      'procedure-changed-since-you-opened',
      'scenario-changed-since-you-opened',
      'somebody-else-changed-sheet-since-you-opened',
      'can-be-finished',
      'engine-by-its-card',
    ].map((code) => `problem.http.${code}`),
  ],
  debrief: [
    'debrief',
    'review',
    'exempt',
    'left',
    'departure',
    'problem.review',
    ...[
      'review-moved-on',
      'cannot-mark-anew',
      'no-equal-job',
      'nothing-to-practise',
      'practice-taken-before',
      'nothing-like-it-in-the-library',
    ].map((code) => `problem.http.${code}`),
    'reason',
    'advice',
    'cause',
    'fault.*.account',
    'condition.*.missed',
  ],
  office: [
    'office',
    'record',
    'audit',
    'password',
    'problem.roster',
    'problem.record',
    'problem.person',
    'problem.http.not-yours-to-keep',
    'problem.http.not-oneself',
    'problem.http.nobody-needs-a-sheet',
    'problem.http.no-such-person',
    'problem.http.other-name',
    'problem.http.old-password-wrong',
    'problem.http.password-as-before',
  ],
  talk: ['talk', 'problem.http.nothing-said', 'problem.http.too-many-watched'],
  steps: [
    ...['name', 'at', 'leave', 'done', 'yard-set', 'yard-watch'],
    ...['start', 'fit', 'read', 'mark', 'point', 'hand'].flatMap((s) => [`bench-${s}`, `lesson-${s}`]),
    ...['lesson-mend', 'lesson-prove'],
  ].map((k) => `first.${k}`),
  hear: ['hear', 'rope', 'plug', 'look', 'holds'],
  lesson: ['lesson', 'lineup', 'problem.lesson'],
  wall: ['wall', 'problem.wall'],
  shop: [
    'shop',
    'study',
    'problem.shop',
    'problem.study',
    'problem.photo',
    ...[
      'no-serial',
      'serial-taken',
      'engine-not-fit',
      'card-moved-on',
      'give-to-whom',
      'hold-not-signed',
      'enough-photos',
      'code-of-another-instrument',
      'exam-without-title',
      'exam-twice',
      'debrief-before-the-end',
      'no-such-card',
      'engine-with-another',
      'engine-not-set-again',
    ].map((c) => `problem.http.${c}`),
    ...[
      'gauge-without-name',
      'gauge-reads-numbers',
      'gauge-error-cannot-be',
      'on-iron-by-hand',
      'by-hand-on-iron',
      'clock-goes-back',
      'no-condition',
      'how-long-it-ran',
      'faltered-after-it-ran',
      'nothing-written-by-hand',
      'nothing-to-correct',
      'read-twice',
      'within-cannot-be',
    ].map((c) => `problem.ledger.${c}`),
  ],
  handing: ['hand-over', 'problem.assess'],
  aids: ['aid'],
  meanings: ['term.*.meaning'],
  none: [
    'first.words',
    'first.history',
    'told',
    'sight',
    'problem.sequencing',
    'problem.sim',
    'problem.command',
    'problem.interop',
    // Of requests that the page never makes.
    ...['encoded-body', 'not-utf8', 'not-json', 'too-deep', 'number-too-large', 'nul', 'more-than-one-value'].map(
      (c) => `problem.http.${c}`,
    ),
  ],
}
type Tree = { [key: string]: string | Tree }
const fits = (pattern: string[], at: string[]) =>
  pattern.length === at.length && pattern.every((p, i) => p === '*' || p === at[i])
const partOf = (at: string[]) => Object.keys(PARTS).find((k) => PARTS[k].some((p) => fits(p.split('.'), at)))

/** What of the messages belongs to a part; to the page itself, where no part is asked for. */
function only(part: string | undefined, tree: Tree, at: string[] = []): Tree {
  const out: Tree = {}
  for (const [name, v] of Object.entries(tree)) {
    const path = [...at, name]
    const of = partOf(path)
    if (of) {
      if (of === part) out[name] = v
    } else if (typeof v === 'string') {
      if (!part) out[name] = v
    } else {
      const rest = only(part, v, path)
      if (Object.keys(rest).length) out[name] = rest
    }
  }
  return out
}
const messages = {
  name: 'messages',
  enforce: 'pre' as const,
  transform(code: string, id: string) {
    const asked = /messages[/\\]\w+\.json(?:\?part=(\w+))?$/.exec(id)
    if (!asked) return
    return {
      code: `export default ${JSON.stringify(only(asked[1], JSON.parse(code)))}`,
      moduleType: 'js' as const,
      map: null,
    }
  },
}

export default defineConfig({
  plugins: [messages, vue(), vuetify({ autoImport: true })],
  resolve: {
    alias: {
      '@': fileURLToPath(new URL('./src', import.meta.url)),
      // The words are the same as the server's and the command line's.
      '@messages': fileURLToPath(new URL('../messages', import.meta.url)),
    },
  },
  define: { __VUE_I18N_LEGACY_API__: 'false', __INTLIFY_PROD_DEVTOOLS__: 'false' },
  build: { sourcemap: false, emptyOutDir: true, assetsInlineLimit: 0 },
  server: { proxy: { '/api': 'http://127.0.0.1:8080' } },
  test: {
    environment: 'happy-dom',
    environmentOptions: { happyDOM: { url: 'http://localhost/' } },
    server: { deps: { inline: ['vuetify'] } },
  },
})
