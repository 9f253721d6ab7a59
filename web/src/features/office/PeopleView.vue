<script setup lang="ts">
import '@/words/office'
import { mdiFileExportOutline, mdiFileImportOutline } from '@mdi/js'
import { useMediaQuery } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Refusal, Schema } from '@/api/client'
import WaitingFor from '@/controls/WaitingFor.vue'
import { useLocalStorage } from '@/session/useLocalStorage'
import { useSession } from '@/session/session'
import { day, sentence, text } from '@/words/words'
import ClassEditor, { type ClassDraft } from './ClassEditor.vue'
import PersonEditor, { type PersonDraft } from './PersonEditor.vue'
import MakeSheets from './MakeSheets.vue'
import SignInSheets from './SignInSheets.vue'
import { shownPeople, useOffice, type Class, type PersonLine } from './useOffice'

/** Who is taught here, in what classes, and how they sign in. */
const session = useSession()
const coordinator = computed(() => session.me?.role === 'coordinator')
const { people, classes, named, keepPerson, keepClass, erase, changed } = useOffice()
const PAGE = 25
const which = ref('all')
const sought = ref('')
const chosen = ref<string[]>([])
const shown = computed(() => shownPeople(people.data.value ?? [], which.value, sought.value))
const picked = computed(() => chosen.value.filter((id) => shown.value.some((p) => p.id === id)))
const here = computed(() => named.value.get(which.value))
const narrow = useMediaQuery('(max-width: 760px)')
const heads = computed(() =>
  [
    { title: text('office.h-name'), key: 'display_name' },
    { title: text('office.h-sign-in'), key: 'name', wide: true },
    { title: text('office.h-role'), key: 'role' },
    { title: text('office.h-classes'), key: 'classes', sortable: false, wide: true },
    { title: text('office.h-password'), key: 'signs_in', wide: true },
    { title: text('office.h-do'), key: 'do', sortable: false, align: 'end' as const },
  ].filter((h) => !narrow.value || !h.wide),
)
const titles = (p: PersonLine) => p.classes.map((c) => named.value.get(c)?.title).join(', ')
const mayChange = (p: PersonLine) => coordinator.value || p.role === 'apprentice'
const teachers = (c: Class) => c.members.filter((m) => m.role === 'instructor').map((m) => m.display_name)
const count = (what: string) => shownPeople(people.data.value ?? [], what, '').length

// What is being typed outlives a reload, and the form is open as long as it is there.
const person = useLocalStorage<PersonDraft | null>('office.person', null)
const group = useLocalStorage<ClassDraft | null>('office.class', null)
function change(p?: PersonLine) {
  person.value = p
    ? { id: p.id, display_name: p.display_name, name: p.name, role: p.role, here: p.here }
    : { display_name: '', name: '', role: 'apprentice', here: true }
}
function changeClass(c?: Class) {
  group.value = c
    ? { id: c.id, title: c.title, term: c.term, members: c.members.map((m) => m.person) }
    : { title: '', term: '', members: picked.value }
}
const sheets = ref<Schema['Sheet'][]>()
</script>

<template>
  <SignInSheets
    v-if="sheets"
    :sheets="sheets"
    :asked="picked.length"
    @done="((sheets = undefined), (chosen = []), changed())"
  />
  <div v-else class="page stack">
    <div class="row wrap">
      <h1 class="grow">{{ text('title.people') }}</h1>
      <v-btn v-if="coordinator" :prepend-icon="mdiFileImportOutline" to="/people/roster">{{
        text('office.roster')
      }}</v-btn>
      <v-btn to="/standard">{{ text('title.standard') }}</v-btn>
      <v-btn :prepend-icon="mdiFileExportOutline" href="/api/roster" download="roster.zip">{{
        text('office.export')
      }}</v-btn>
      <v-btn color="secondary" variant="flat" @click="change()">{{ text('office.add') }}</v-btn>
    </div>
    <WaitingFor
      v-if="people.isPending.value || classes.isPending.value"
      :what="text('office.fetching')"
      as="table-tbody"
    />
    <p v-else-if="people.isError.value" class="panel" role="alert">{{ sentence(people.error.value as Refusal) }}</p>
    <div v-else class="two">
      <section class="panel stack" :aria-label="text('office.classes')">
        <h2>{{ text('office.classes') }}</h2>
        <v-list
          class="classes"
          role="listbox"
          :aria-label="text('office.classes')"
          density="compact"
          :selected="[which]"
          mandatory
          @update:selected="which = String($event)"
        >
          <v-list-item
            v-for="w in ['all', 'none', 'left']"
            :key="w"
            :value="w"
            :title="text(w === 'all' ? 'office.everybody' : w === 'none' ? 'office.no-class' : 'office.left')"
          >
            <template #append>
              <span class="figure">{{ count(w) }}</span>
            </template>
          </v-list-item>
          <v-list-item v-for="c in classes.data.value" :key="c.id" :value="c.id">
            <v-list-item-title class="class">{{ c.title }}</v-list-item-title>
            <span class="small muted">{{ text('office.until', { term: c.term, ends: day(c.ends) }) }}</span>
            <span class="small" :class="teachers(c).length ? 'muted' : 'warn'">{{
              teachers(c).join(', ') || text('office.nobody-teaches')
            }}</span>
            <template #append>
              <span class="figure">{{ c.members.length }}</span>
            </template>
          </v-list-item>
        </v-list>
        <p v-if="!classes.data.value?.length" class="muted">{{ text('office.empty') }}</p>
        <v-btn @click="changeClass()">{{ text('office.new-class') }}</v-btn>
      </section>
      <section class="panel stack" :aria-label="text('title.people')">
        <div class="row wrap">
          <v-text-field
            v-model="sought"
            class="grow"
            density="compact"
            hide-details
            maxlength="60"
            :label="text('office.find')"
          />
          <v-btn v-if="here && !coordinator" :to="`/classes/${here.id}`">{{ text('office.work-of') }}</v-btn>
          <v-btn v-if="here" @click="changeClass(here)">{{ text('office.change-class') }}</v-btn>
          <MakeSheets :people="picked" @made="sheets = $event" />
        </div>
        <v-data-table
          v-model="chosen"
          class="people"
          density="comfortable"
          show-select
          item-value="id"
          :headers="heads"
          :items="shown"
          :items-per-page="PAGE"
          :hide-default-footer="shown.length <= PAGE"
          :no-data-text="text('office.nobody')"
        >
          <template #[`item.display_name`]="{ item }">
            <router-link v-if="item.role === 'apprentice'" :to="`/people/${item.id}/record`">{{
              item.display_name
            }}</router-link>
            <b v-else>{{ item.display_name }}</b>
          </template>
          <template #[`item.role`]="{ item }">{{ text(`app.${item.role}`) }}</template>
          <template #[`item.classes`]="{ item }">{{ titles(item) }}</template>
          <template #[`item.signs_in`]="{ item }">
            <span :class="{ warn: item.signs_in === 'never' }">{{ text(`office.${item.signs_in}`) }}</span>
          </template>
          <template #[`item.do`]="{ item }">
            <v-btn
              v-if="mayChange(item)"
              variant="text"
              :aria-label="text('office.change-who', { name: item.display_name })"
              @click="change(item)"
              >{{ text('office.change') }}</v-btn
            >
          </template>
        </v-data-table>
      </section>
    </div>
    <PersonEditor v-if="person" v-model="person" :any-role="coordinator" :save="keepPerson" :erase="erase" />
    <ClassEditor
      v-if="group"
      v-model="group"
      :people="people.data.value ?? []"
      :terms="[...new Set((classes.data.value ?? []).map((c) => c.term))]"
      :save="keepClass"
    />
  </div>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(230px, 300px) minmax(0, 1fr);
  gap: 12px;
  align-items: start;
}
.classes {
  background: transparent;
  padding: 0;
  max-height: 60vh;
  overflow-y: auto;
}
.classes .small {
  display: block;
}
.class {
  font-weight: 600;
}
.row > h1.grow {
  flex: 1 0 auto;
}
.people {
  background: transparent;
}
.warn {
  color: var(--suspect-ink);
}
@media (max-width: 900px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
