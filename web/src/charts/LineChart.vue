<script setup lang="ts">
import { useElementSize, useEventListener } from '@vueuse/core'
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, useTemplateRef, watch, watchEffect } from 'vue'
import { useTheme } from 'vuetify'
import { figure } from '@/words/words'
import { init, type EChartsType } from './echarts'

/**
 * One quantity against another, with the place that is looked at. A press anywhere takes
 * the nearest point. Whoever shows it gives the same figures in a table, for those who do
 * not see it.
 */
const props = defineProps<{
  label: string
  points: { x: number; y: number }[]
  at: number
  /** Another line to hold it against, drawn thin and dashed. */
  beside?: { x: number; y: number }[]
  /** The figure holds from each point to the next, instead of going over to it. */
  steps?: boolean
  /** Its own figures on both axes; without, it is a line only. */
  axes?: { x: string }
}>()
const emit = defineEmits<{ at: [i: number] }>()

const place = useTemplateRef<HTMLElement>('place')
const { width, height } = useElementSize(place)
const theme = useTheme()
const inks = { line: 'link', now: 'condemned', grid: 'line-soft', text: 'muted', panel: 'panel', label: 'label' }
// The page's own colours, which are other ones by night.
const ink = ref<Record<string, string>>({})
watch(
  [place, theme.global.name],
  () => {
    if (!place.value) return
    const own = getComputedStyle(place.value)
    for (const [what, name] of Object.entries(inks)) ink.value[what] = own.getPropertyValue(`--${name}`).trim()
  },
  { flush: 'post' },
)

const option = computed(() => {
  const of = (what: string) => ink.value[what] || '#888'
  const here = props.points[props.at]
  const words = { color: of('text'), fontFamily: of('label'), fontSize: 15 }
  const bare = {
    axisLine: { lineStyle: { color: of('grid') } },
    axisLabel: { show: false },
    splitLine: { show: false },
  }
  return {
    animation: false,
    grid: props.axes
      ? { left: 40, right: 18, top: 14, bottom: 46, outerBoundsMode: 'none' }
      : { left: 6, right: 6, top: 6, bottom: 6, outerBoundsMode: 'none' },
    xAxis: {
      type: 'value',
      min: 0,
      max: Math.max(0.1, props.points.at(-1)?.x ?? 0, props.beside?.at(-1)?.x ?? 0),
      axisTick: { show: false },
      ...(props.axes
        ? {
            name: props.axes.x,
            nameLocation: 'middle',
            nameGap: 26,
            nameTextStyle: words,
            axisLabel: { ...words, formatter: figure, showMaxLabel: false },
            axisLine: { show: false },
            splitLine: { show: false },
          }
        : bare),
    },
    yAxis: {
      type: 'value',
      min: 0,
      axisTick: { show: false },
      ...(props.axes
        ? {
            minInterval: 1,
            axisLabel: { ...words, formatter: figure },
            splitLine: { lineStyle: { color: of('grid'), width: 1.5 } },
          }
        : { ...bare, axisLine: { show: true, lineStyle: { color: of('grid') } } }),
    },
    series: [
      {
        type: 'line',
        step: props.steps ? 'end' : false,
        silent: true,
        showSymbol: !!props.axes,
        symbol: 'circle',
        lineStyle: { width: props.axes ? 4 : 2, color: of('line') },
        data: props.points.map((p, i) => ({
          value: [p.x, p.y],
          symbolSize: i === props.at ? 18 : 12,
          itemStyle: { color: i === props.at ? of('now') : of('line'), borderColor: of('panel'), borderWidth: 3 },
        })),
        markLine: {
          symbol: 'none',
          label: { show: false },
          lineStyle: { color: of('now'), type: 'solid', width: 1.5 },
          data: here ? [{ xAxis: here.x }] : [],
        },
      },
      ...(props.beside
        ? [
            {
              type: 'line',
              silent: true,
              showSymbol: false,
              lineStyle: { width: 1.5, type: 'dashed', color: of('text') },
              data: props.beside.map((p) => [p.x, p.y]),
            },
          ]
        : []),
    ],
  }
})

const chart = shallowRef<EChartsType>()
onMounted(() => {
  // Where a page is not laid out, as in a test, it is as large as asked for here.
  const size = place.value!.clientWidth ? {} : { width: 760, height: 176 }
  chart.value = init(place.value!, undefined, { renderer: 'svg', ...size })
  chart.value.getZr().on('click', (e: { offsetX: number; offsetY: number }) => {
    const x = chart.value!.convertFromPixel({ xAxisIndex: 0 }, e.offsetX)
    const off = props.points.map((p) => Math.abs(p.x - x))
    emit('at', off.lastIndexOf(Math.min(...off)))
  })
})
watchEffect(() => chart.value?.setOption(option.value, true), { flush: 'post' })
watchEffect(() => width.value && height.value && chart.value?.resize(), { flush: 'post' })
// Paper is narrower, and tells nobody: about the width of a sheet between its edges, px.
const PAPER = 690
useEventListener(window, 'beforeprint', () => chart.value?.resize({ width: Math.min(PAPER, width.value) }))
useEventListener(window, 'afterprint', () => chart.value?.resize())
onBeforeUnmount(() => chart.value?.dispose())
</script>

<template>
  <div ref="place" class="chart" role="img" :aria-label="label"></div>
</template>

<style scoped>
.chart {
  width: 100%;
  min-width: 0;
  overflow: hidden;
  cursor: pointer;
}
</style>
