<script setup lang="ts">
/** The curve of triangles against chord deviation, with the limit that is set. A click on it sets the limit. */
import { LineChart } from 'echarts/charts';
import { GridComponent, MarkLineComponent, TooltipComponent } from 'echarts/components';
import { use } from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import { computed, ref } from 'vue';
import VChart from 'vue-echarts';
import type { Forecast } from '@noble-prism/core/preparation/forecast';
import { formatCount, formatNumber } from '@noble-prism/core/units';
import { dark } from '../../theme/sheetMode.ts';

use([LineChart, GridComponent, MarkLineComponent, TooltipComponent, CanvasRenderer]);

const props = defineProps<{ forecast: Forecast; chord: number }>();
const emit = defineEmits<{ choose: [chord: number] }>();
const chart = ref<InstanceType<typeof VChart>>();

const colour = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();
const short = (value: number) =>
  value >= 1e6
    ? `${formatNumber(value / 1e6, 2)} M`
    : value >= 1000
      ? `${formatNumber(value / 1000, 2)} k`
      : String(value);

const option = computed(() => {
  void dark.value;
  const [ink, ink2, rule, iris] = ['--ink', '--ink-2', '--rule', '--iris'].map(colour);
  const text = { color: ink2, fontSize: 11, fontFamily: 'inherit' };
  return {
    animation: false,
    grid: { left: 44, right: 12, top: 12, bottom: 34 },
    xAxis: {
      type: 'log',
      name: 'chord deviation, mm',
      nameLocation: 'middle',
      nameGap: 20,
      nameTextStyle: text,
      min: 'dataMin',
      max: 'dataMax',
      axisLabel: { ...text, formatter: (value: number) => formatNumber(value, 2) },
      axisLine: { lineStyle: { color: rule } },
      splitLine: { show: false },
    },
    yAxis: {
      type: 'log',
      axisLabel: { ...text, formatter: short },
      splitLine: { lineStyle: { color: rule } },
      min: (range: { min: number }) => 10 ** Math.floor(Math.log10(Math.max(1, range.min))),
    },
    tooltip: {
      trigger: 'axis',
      backgroundColor: colour('--raised'),
      borderColor: rule,
      textStyle: { color: ink, fontSize: 12 },
      formatter: (points: { value: [number, number] }[]) =>
        `${formatNumber(points[0].value[0], 3)} mm: about ${formatCount(points[0].value[1])} triangles`,
    },
    series: [
      {
        type: 'line',
        data: [...props.forecast.points]
          .reverse()
          .map(({ chord, triangles }) => [chord * 1000, Math.max(1, triangles)]),
        symbolSize: 5,
        lineStyle: { color: ink, width: 1.5 },
        itemStyle: { color: ink },
        markLine: {
          silent: true,
          symbol: 'none',
          label: { show: false },
          lineStyle: { color: iris, type: 'solid', width: 1.5 },
          data: [{ xAxis: props.chord * 1000 }],
        },
      },
    ],
  };
});

const summary = computed(() =>
  props.forecast.points
    .map(({ chord, triangles }) => `${formatNumber(chord * 1000, 2)} mm ${formatCount(triangles)}`)
    .join(', '),
);

function click(event: { offsetX: number; offsetY: number }): void {
  const point = chart.value?.convertFromPixel({ seriesIndex: 0 }, [event.offsetX, event.offsetY]) as
    | number[]
    | undefined;
  if (!point) return;
  // Two figures are as exact as a click.
  const millimetres = Number(point[0].toPrecision(2));
  if (millimetres > 0 && Number.isFinite(millimetres)) emit('choose', millimetres / 1000);
}
</script>

<template>
  <VChart
    ref="chart"
    class="chart"
    role="img"
    :aria-label="`Forecast of triangles by chord deviation: ${summary}`"
    :option="option"
    autoresize
    @zr:click="click"
  />
</template>

<style scoped>
.chart {
  height: 170px;
  width: 100%;
  margin-top: 6px;
}
</style>
