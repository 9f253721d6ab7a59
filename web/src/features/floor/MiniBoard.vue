<script setup lang="ts">
import { computed } from 'vue'
import { lanes, said, type Marks } from '@/board/marks'
import { useFamily } from '@/features/bench/useFamily'
import { text } from '@/words/words'

/** The board of a bench so small that thirty are seen at once: each mark differs in shape too. */
const props = defineProps<{
  family: string
  marks: Marks
  label?: string
  /** For one that stands alone. */ tall?: boolean
}>()
const family = useFamily(() => props.family)
const rows = computed(() => (family.data.value ? lanes(family.data.value.laterals, family.data.value.reaches) : []))
const words = computed(() => {
  const marked = rows.value.flatMap((r) => r.reaches.filter((x) => props.marks[x.id]))
  const all = marked.length
    ? marked.map((r) => `${r.name}: ${said(props.marks[r.id])}`).join(', ')
    : text('office.floor.nothing-marked')
  return props.label ? `${props.label}: ${all}` : all
})
</script>

<template>
  <div class="mini" :class="{ tall }" role="img" :aria-label="words">
    <div v-for="row in rows" :key="row.id" class="lane">
      <i
        v-for="r in row.reaches"
        :key="r.id"
        :class="marks[r.id] || 'dry'"
        :title="tall ? `${r.name}: ${said(marks[r.id])}` : undefined"
      ></i>
    </div>
  </div>
</template>

<style scoped>
.mini {
  display: grid;
  gap: 3px;
}
.lane {
  display: flex;
  gap: 1px;
}
i {
  flex: 1;
  height: 8px;
  background: var(--dry);
}
.tall {
  gap: 6px;
}
.tall i {
  height: 18px;
}
.clear {
  background: var(--water-2);
}
.suspect {
  background: repeating-linear-gradient(115deg, var(--suspect) 0 2px, var(--suspect-bg) 2px 5px);
}
.condemned {
  background:
    linear-gradient(to top right, transparent 42%, var(--condemned) 42% 58%, transparent 58%),
    linear-gradient(to bottom right, var(--condemned-bg) 42%, var(--condemned) 42% 58%, var(--condemned-bg) 58%);
}
</style>
