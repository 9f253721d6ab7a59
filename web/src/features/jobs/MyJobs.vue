<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask } from '@/api/client'

const jobs = useQuery({ queryKey: ['attempts'], queryFn: () => ask(api.GET('/api/attempts')) })
const open = computed(() => (jobs.data.value ?? []).filter((j) => j.state !== 'handed-over'))
const done = computed(() => (jobs.data.value ?? []).filter((j) => j.state === 'handed-over'))
</script>

<template>
  <div class="page">
    <h1>My jobs</h1>
    <p v-if="jobs.isPending.value" class="muted" role="status">Fetching your job cards …</p>
    <p v-else-if="jobs.isError.value" role="alert">{{ jobs.error.value?.message }}. Reload the page to try again.</p>
    <template v-else>
      <section aria-label="On the bench" class="cards">
        <router-link v-for="j in open" :key="j.id" class="card" :to="`/bench/${j.id}`">
          <div class="head">
            <h2>{{ j.machine_name }} {{ j.machine_code }}</h2>
            <span class="muted">job {{ j.job_number }}</span>
          </div>
          <p class="words">“{{ j.words }}”</p>
          <div class="foot">
            <span class="figure">{{
              j.state === 'new' ? `${j.limit_minutes} min allowed` : `${j.minutes} of ${j.limit_minutes} min used`
            }}</span>
            <span class="key main">{{ j.state === 'new' ? 'Take the job' : 'Go on' }}</span>
          </div>
        </router-link>
        <p v-if="open.length === 0" class="panel">
          No job is waiting. Your instructor gives them out; done ones stand below.
        </p>
      </section>
      <section v-if="done.length" aria-label="Handed over" class="panel done">
        <h2>Handed over</h2>
        <ul>
          <li v-for="j in done" :key="j.id">
            <span class="muted">job {{ j.job_number }}</span>
            <b>{{ j.machine_name }} {{ j.machine_code }}</b>
            <span class="cls">{{ j.class }}</span>
            <span class="figure">{{ j.mark }} of {{ j.of }}</span>
            <span class="muted">{{ j.minutes }} min</span>
            <router-link class="key" :to="`/debrief/${j.id}`">Debrief</router-link>
          </li>
        </ul>
      </section>
    </template>
  </div>
</template>

<style scoped>
.page {
  display: grid;
  gap: 16px;
}
.cards {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 520px), 1fr));
  gap: 14px;
}
.card {
  background: var(--panel);
  border-left: 7px solid var(--suspect);
  border-radius: 4px 14px 14px 4px;
  padding: 16px 18px;
  display: grid;
  gap: 12px;
  grid-template-rows: auto 1fr auto;
  color: var(--ink);
  text-decoration: none;
}
.head,
.foot {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
.words {
  font-size: 17px;
}
.foot .figure {
  font-size: 17px;
}
.foot .key {
  display: grid;
  place-items: center;
  padding-inline: 18px;
}
ul {
  list-style: none;
  padding: 0;
  margin: 8px 0 0;
}
li {
  display: grid;
  grid-template-columns: 64px 1fr 1fr 110px 80px auto;
  gap: 12px;
  align-items: center;
  padding: 6px 0;
  border-top: 1px solid var(--line-soft);
}
li .key {
  text-decoration: none;
  display: grid;
  place-items: center;
}
.cls {
  text-transform: capitalize;
}
@media (max-width: 640px) {
  li {
    grid-template-columns: 1fr auto;
  }
}
</style>
