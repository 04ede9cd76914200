import { BarChart } from 'echarts/charts';
import { GridComponent, LegendComponent, TooltipComponent } from 'echarts/components';
import { init, use, type ECharts } from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';
import type { SerialPartView } from '@keyroster/contract';
import { colours } from '../ui/colours';

use([BarChart, GridComponent, LegendComponent, TooltipComponent, SVGRenderer]);

/** Draws of each part how many readers have it, and for how many it is the newest they have. */
export function drawReaders(element: HTMLElement, parts: readonly SerialPartView[]): ECharts {
  const { verdigris, ink, soft, hair, sheet } = colours(element);
  const font = getComputedStyle(element).fontFamily;
  const chart = init(element, null, { renderer: 'svg' });
  const bar = (name: string, data: number[], opacity: number) => ({
    name,
    type: 'bar' as const,
    stack: 'readers',
    barCategoryGap: '40%',
    data: data.map((n) => n || null),
    itemStyle: { color: verdigris, opacity },
  });
  chart.setOption({
    animation: false,
    textStyle: { fontFamily: font, color: soft },
    grid: { left: 44, right: 8, top: 30, bottom: 24 },
    legend: { top: 0, left: 0, itemWidth: 16, itemHeight: 9, textStyle: { color: soft, fontFamily: font } },
    tooltip: {
      trigger: 'axis',
      backgroundColor: sheet,
      borderColor: hair,
      textStyle: { color: ink, fontFamily: font, fontSize: 12 },
    },
    xAxis: {
      type: 'category',
      data: parts.map((_, i) => `part ${i + 1}`),
      axisTick: { show: false },
      axisLine: { lineStyle: { color: ink } },
      axisLabel: { color: soft },
    },
    yAxis: {
      type: 'value',
      minInterval: 1,
      splitLine: { lineStyle: { color: hair } },
      axisLabel: { color: soft },
    },
    series: [
      bar(
        'are here',
        parts.map((p) => p.newest),
        1,
      ),
      bar(
        'went further',
        parts.map((p) => p.have - p.newest),
        0.35,
      ),
    ],
  });
  element.querySelector('svg')?.setAttribute('aria-hidden', 'true');
  return chart;
}
