<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { leadsTo, taught } from '@/features/procedure/step'
import { nameOf, text } from '@/words/words'

/**
 * The page that is followed: the step in front with what it asks, and where the last
 * answer has led. It can be left for a reason at any time, and come back to.
 */
const props = defineProps<{
  page: Schema['BenchPage']
  family: Schema['Family']
  /** The test in hand. */
  inHand?: string
  /** Precautions that have been taken. */
  taken: string[]
  busy?: boolean
}>()
const emit = defineEmits<{ choose: [test: string]; event: [event: Schema['Event']] }>()

const step = computed(() => props.page.step)
const last = computed(() => props.page.passed.at(-1))
const title = (test?: string) => nameOf('test', test ?? '', 'title')
const how = computed(() => (step.value ? taught(step.value, props.family) : ''))
const came = computed(() => {
  const l = last.value
  if (!l) return ''
  if (!l.outcome) return text('page.no-way-on', { step: title(l.test) })
  if (!['conclude', 'stop'].includes(l.outcome.then)) return ''
  return text('page.comes-to', { step: title(l.test), what: leadsTo(l.outcome) })
})
// With the step's test in hand there is a line of it, and what is still to be done first.
const atIt = computed(() => !!step.value && props.inHand === step.value.test)
const first = computed(() => (step.value?.precautions ?? []).filter((a) => !props.taken.includes(a)))
const reasons = ['safety', 'seen', 'judgement']
</script>

<template>
  <section class="panel follow" :class="{ away: page.left }" :aria-label="text('page.name')" :title="page.title">
    <div class="row">
      <p class="grow">
        <b class="figure">{{ step ? text('page.at', { n: page.at + 1, all: page.of }) : page.title }}</b>
        <template v-if="step && !page.left">
          <template v-if="!atIt">
            · <b>{{ title(step.test) }}</b><template v-if="step.repair">
              ·
              {{
                text('page.after', { work: nameOf('repair', step.repair), reach: nameOf('reach', step.reach ?? '') })
              }}
            </template>
          </template>
          <template v-if="how"> · {{ how }}</template>
        </template>
      </p>
      <v-btn v-if="step && !atIt && !page.left" density="compact" :disabled="busy" @click="emit('choose', step.test)">{{
        text('page.take-up')
      }}</v-btn>
      <v-btn v-if="page.left" :disabled="busy" @click="emit('event', { kind: 'page' })">{{ text('page.back') }}</v-btn>
      <v-menu v-else-if="step">
        <template #activator="{ props: on }">
          <v-btn variant="text" density="compact" :disabled="busy" v-bind="on">{{ text('page.leave') }}</v-btn>
        </template>
        <v-list>
          <v-list-item
            v-for="why in reasons"
            :key="why"
            :title="text(`page.why-${why}`)"
            @click="emit('event', { kind: 'page', why })"
          />
        </v-list>
      </v-menu>
    </div>
    <p v-if="page.left" role="status">{{ text('page.left', { why: text(`page.why-${page.left}`) }) }}</p>
    <template v-else-if="step">
      <p v-if="first.length && (atIt || !inHand)" class="small before">
        {{ text('page.first', { actions: first.map((a) => nameOf('action', a)).join('; ') }) }}
      </p>
      <p v-if="step.note && !inHand" class="small muted">{{ step.note }}</p>
    </template>
    <p v-else role="status">
      <b>{{ came || text('page.ran-out') }}</b>
    </p>
  </section>
</template>

<style scoped>
.follow {
  padding: 5px 12px 8px;
  border-left: 7px solid var(--water-2);
  border-radius: 4px 14px 14px 4px;
  display: grid;
  gap: 3px;
}
.follow.away {
  border-color: var(--suspect);
}
.before {
  color: var(--suspect-ink);
}
</style>
