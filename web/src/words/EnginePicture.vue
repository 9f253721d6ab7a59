<script setup lang="ts">
import { computed } from 'vue'

/** A small engine from the side with everything at its place; one part of it stands out. */
const props = defineProps<{ part: string; label: string }>()

// Each part as an outline, and what is drawn around it when it stands out: x, y, width.
type Shape = { d: string; at: [number, number, number]; line?: boolean }
const shapes: Record<string, Shape> = {
  tank: { d: 'M20 22h96v40h-96z', at: [10, 5, 120] },
  vent: { d: 'M52 10h30v12h-30zM65 5v8M69 5v8', at: [25, 0, 80] },
  pickup: { d: 'M92 50h14v12h-14z', at: [70, 34, 60] },
  'fuel-line': { d: 'M99 62v16h-34v46', at: [40, 55, 90], line: true },
  'air-filter': { d: 'M14 84h34v54h-34z', at: [0, 72, 90] },
  carburettor: { d: 'M52 92h92v8h-92zM52 118h92v8h-92z', at: [40, 75, 120] },
  choke: { d: 'M66 99l6 19M62 108h14', at: [44, 84, 56], line: true },
  throttle: { d: 'M128 99l6 19M124 108h14', at: [104, 84, 56], line: true },
  bowl: { d: 'M78 126h46v38h-46z', at: [66, 112, 76] },
  float: { d: 'M84 140h14v12h-14zM112 140h9v12h-9z', at: [70, 124, 62] },
  needle: { d: 'M70 122l6 8-6 8z', at: [52, 108, 44] },
  'main-jet': { d: 'M101 148h8v8h-8z', at: [86, 134, 40] },
  emulsion: { d: 'M103 118h4v28h-4zM102 124h6M102 130h6M102 136h6', at: [86, 110, 44] },
  'pilot-jet': { d: 'M118 126h4v16h-4z', at: [104, 114, 40] },
  primer: { d: 'M20 156a12 12 0 0 1 24 0zM44 150h30', at: [8, 134, 76] },
  joint: { d: 'M144 90h6v38h-6z', at: [122, 78, 60] },
  cylinder: { d: 'M170 82h14v108h-14zM236 82h14v108h-14z', at: [150, 70, 120] },
  bore: { d: 'M184 96h52v60h-52z', at: [164, 84, 92] },
  fins: {
    d: 'M156 92h14M156 102h14M156 112h14M156 122h14M156 132h14M250 92h14M250 102h14M250 112h14M250 122h14M250 132h14',
    at: [146, 78, 130],
    line: true,
  },
  'head-gasket': { d: 'M166 78h88v4h-88z', at: [150, 56, 120] },
  valves: { d: 'M190 64v16M184 80h14M230 64v16M222 80h14', at: [168, 48, 84], line: true },
  decompressor: { d: 'M242 62a7 7 0 1 0 .1 0M236 69h-8', at: [214, 46, 54] },
  insulator: { d: 'M206 34h8v28h-8z', at: [184, 22, 54] },
  electrode: { d: 'M209 62v10M204 76h12v-6', at: [190, 52, 42], line: true },
  'plug-boot': { d: 'M202 16h16v18h-16z', at: [184, 6, 54] },
  'ht-lead': { d: 'M218 22h70v118', at: [200, 8, 110], line: true },
  piston: { d: 'M185 112h50v32h-50z', at: [164, 92, 94] },
  rings: { d: 'M184 118h52v3h-52zM184 125h52v3h-52z', at: [166, 102, 90] },
  rod: { d: 'M206 140l8 0 18 84-10 4z', at: [170, 130, 100] },
  crank: { d: 'M210 196a34 34 0 1 0 .1 0M206 226h66v8h-66z', at: [166, 184, 120] },
  seal: { d: 'M250 218h6v24h-6z', at: [230, 204, 50] },
  flywheel: { d: 'M276 186h22v88h-22z', at: [250, 170, 90] },
  key: { d: 'M276 222h8v6h-8z', at: [258, 206, 42] },
  magnet: { d: 'M276 186h22v10h-22z', at: [256, 172, 60] },
  'air-gap': { d: 'M276 180h22v6h-22z', at: [260, 162, 52] },
  coil: { d: 'M274 142h28v38h-28z', at: [252, 128, 76] },
  'kill-wire': { d: 'M302 150h44v30M340 180h12', at: [286, 134, 80], line: true },
  recoil: { d: 'M306 192h14v76h-14zM320 262h30', at: [290, 180, 80] },
  brake: { d: 'M280 274h14v8h-14z', at: [258, 258, 60] },
  muffler: { d: 'M270 82h66v40h-66z', at: [250, 66, 110] },
  arrestor: { d: 'M336 88h5v28h-5zM336 95h5M336 102h5M336 109h5', at: [312, 72, 54] },
  breather: { d: 'M170 196h-134v-58', at: [10, 130, 190], line: true },
  governor: { d: 'M132 124v54h-12M132 178l24 20', at: [108, 112, 80], line: true },
  diaphragm: { d: 'M20 232q40 14 80 0M60 239v12', at: [6, 208, 110], line: true },
  pulse: { d: 'M100 246h40l30-20', at: [86, 206, 100], line: true },
  chamber: { d: 'M20 222h80v44h-80z', at: [6, 208, 110] },
}
// What stands behind everything, unless it is what is meant.
const faint = Object.keys(shapes)
const shape = computed(() => shapes[props.part] ?? shapes.cylinder)
const box = computed(() => {
  const [x, y, w] = shape.value.at
  const wide = Math.max(1.4 * w, 150) // enough around it to know where it is
  return `${x + (w - wide) / 2} ${y + 0.35 * (w - wide)} ${wide} ${wide * 0.7}`
})
</script>

<template>
  <svg :viewBox="box" role="img" :aria-label="label">
    <path
      v-for="id in faint"
      :key="id"
      :d="shapes[id].d"
      fill="none"
      stroke="currentColor"
      stroke-opacity="0.45"
      stroke-width="1.4"
    />
    <path
      :data-part="part"
      :d="shape.d"
      :fill="shape.line ? 'none' : 'var(--water-2)'"
      stroke="var(--water-2)"
      :stroke-width="shape.line ? 3.4 : 1.8"
      stroke-linecap="round"
    />
  </svg>
</template>
