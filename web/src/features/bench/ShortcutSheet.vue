<script setup lang="ts">
const open = defineModel<boolean>({ required: true })
const keys = [
  ['B', 'to the board'],
  ['arrows', 'walk the reaches; Home and End go to the ends of a lateral'],
  ['F, S, X, U', 'on a reach: flows, suspect, condemn, undecided'],
  ['Shift F', 'on a reach: it and all before it flow'],
  ['Z', 'take the last mark back'],
  ['T', 'find a test'],
  ['I', 'to the instrument or test in hand'],
  ['R', 'to the reading'],
  ['C', "to the machine's controls"],
  ['L', 'to the ledger'],
  ['A', 'job aids'],
  ['?', 'this sheet'],
]
</script>

<template>
  <v-dialog v-model="open" max-width="520" aria-label="Shortcuts">
    <div class="panel sheet">
      <h2>Shortcuts</h2>
      <dl>
        <template v-for="[k, what] in keys" :key="k">
          <dt class="figure">{{ k }}</dt>
          <dd>{{ what }}</dd>
        </template>
      </dl>
      <v-btn @click="open = false">Close</v-btn>
    </div>
  </v-dialog>
</template>

<style scoped>
.sheet {
  padding: 20px 22px;
  display: grid;
  gap: 12px;
}
dl {
  display: grid;
  grid-template-columns: 110px 1fr;
  gap: 8px;
  margin: 0;
}
dd {
  margin: 0;
}
</style>
