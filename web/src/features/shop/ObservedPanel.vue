<script setup lang="ts">
import { useMutation, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Refusal, type Schema } from '@/api/client'
import WhyBtn from '@/controls/WhyBtn.vue'
import { useLocalStorage } from '@/session/useLocalStorage'
import ProblemText from '@/words/ProblemText.vue'
import { text } from '@/words/words'

/** Hold points and skills of the hand at one engine, signed while somebody walks past. */
const props = defineProps<{ attempt: string }>()
const path = { params: { path: { attempt: props.attempt } } }
const seen = useQuery({
  queryKey: ['observed', props.attempt],
  queryFn: () => ask(api.GET('/api/attempts/{attempt}/observed', path)),
})
const groups = computed(() =>
  (['hold', 'skill'] as const).map((kind) => ({
    kind,
    items: (seen.data.value ?? []).filter((o) => o.kind === kind),
  })),
)
const initials = useLocalStorage('shop.initials', '')
const refusal = ref<Refusal>()
const sign = useMutation({
  mutationFn: (o: Schema['Observed']) =>
    ask(
      api.POST('/api/attempts/{attempt}/observed', {
        ...path,
        body: { kind: o.kind, item: o.item, initials: initials.value },
      }),
    ),
  onSuccess: () => {
    refusal.value = undefined
    return seen.refetch()
  },
  onError: (e) => (refusal.value = e as unknown as Refusal),
})
</script>

<template>
  <div class="stack">
    <p class="muted small">{{ text('shop.observe-lead') }}</p>
    <v-text-field v-model="initials" hide-details maxlength="12" :label="text('shop.initials')" />
    <p v-if="refusal" class="refusal" role="alert"><ProblemText :of="refusal" /></p>
    <template v-for="g in groups" :key="g.kind">
      <h3>{{ text(`shop.${g.kind}s`) }}</h3>
      <ul>
        <li v-for="o in g.items" :key="o.item">
          <span class="grow">{{ text(`shop.${o.kind}.${o.item}`) }}</span>
          <span v-if="o.by" class="good">✓ {{ text('shop.seen-by', { initials: o.initials, by: o.by }) }}</span>
          <WhyBtn
            v-else
            :not="initials.trim() ? '' : text('shop.write-initials')"
            :busy="sign.isPending.value"
            :aria-label="text('shop.sign-what', { item: text(`shop.${o.kind}.${o.item}`) })"
            @click="sign.mutate(o)"
            >{{ text('shop.sign') }}</WhyBtn
          >
        </li>
      </ul>
    </template>
  </div>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  gap: 10px;
  align-items: center;
  min-height: 52px;
  border-bottom: 1px solid var(--line-soft);
}
.good {
  color: var(--good);
}
</style>
