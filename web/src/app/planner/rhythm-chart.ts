import { BarChart, LineChart } from 'echarts/charts';
import {
  AriaComponent,
  GridComponent,
  LegendComponent,
  MarkLineComponent,
  TooltipComponent,
} from 'echarts/components';
import { init, use, type ECharts } from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';
import { formatShortDate, type RhythmWeek } from '@keyroster/core';
import { colours } from '../ui/colours';

use([
  BarChart,
  LineChart,
  AriaComponent,
  GridComponent,
  LegendComponent,
  MarkLineComponent,
  TooltipComponent,
  SVGRenderer,
]);

/**
 * Draws 26 weeks as stacked bars with the wanted number as a stepped line. Colours come from the page, so
 * that light and dark are one code.
 */
export function drawRhythm(element: HTMLElement, weeks: readonly RhythmWeek[], thisWeek: string): ECharts {
  const { verdigris, ink, soft, hair, brass, sheet } = colours(element);
  const font = getComputedStyle(element).fontFamily;
  const chart = init(element, null, { renderer: 'svg' });
  const bar = (name: string, key: 'released' | 'ready' | 'underWay', itemStyle: object) => ({
    name,
    type: 'bar' as const,
    stack: 'posts',
    barCategoryGap: '35%',
    data: weeks.map((w) => w[key] || null),
    itemStyle,
  });
  chart.setOption({
    animation: false,
    aria: { enabled: false },
    textStyle: { fontFamily: font, color: soft },
    grid: { left: 30, right: 10, top: 34, bottom: 26 },
    legend: { top: 0, left: 0, itemWidth: 16, itemHeight: 9, textStyle: { color: soft, fontFamily: font } },
    tooltip: {
      trigger: 'axis',
      backgroundColor: sheet,
      borderColor: hair,
      textStyle: { color: ink, fontFamily: font, fontSize: 12 },
    },
    xAxis: {
      type: 'category',
      data: weeks.map((w) => `wk ${w.week}`),
      axisTick: { show: false },
      axisLine: { lineStyle: { color: ink } },
      axisLabel: { color: soft, interval: 1, hideOverlap: true },
    },
    yAxis: {
      type: 'value',
      minInterval: 1,
      splitLine: { lineStyle: { color: hair } },
      axisLabel: { color: soft },
    },
    series: [
      bar('released', 'released', { color: verdigris }),
      bar('ready', 'ready', { color: verdigris, opacity: 0.55 }),
      bar('under way', 'underWay', { color: sheet, borderColor: verdigris, borderWidth: 1.5 }),
      {
        name: 'wanted',
        type: 'line',
        step: 'middle',
        symbol: 'none',
        data: weeks.map((w) => w.wanted),
        lineStyle: { color: brass, width: 2, type: 'dashed' },
        itemStyle: { color: brass },
        markLine: {
          silent: true,
          symbol: 'none',
          label: { formatter: 'this week', color: soft, fontFamily: font },
          lineStyle: { color: ink, type: 'solid', width: 1 },
          data: [{ xAxis: weeks.findIndex((w) => w.start === thisWeek) }],
        },
      },
    ],
  });
  element.querySelector('svg')?.setAttribute('aria-hidden', 'true');
  return chart;
}

export const labelOf = (week: RhythmWeek): string => `wk ${week.week}, from ${formatShortDate(week.start)}`;
