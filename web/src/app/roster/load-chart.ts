import { BarChart, LineChart } from 'echarts/charts';
import { GridComponent, LegendComponent, TooltipComponent } from 'echarts/components';
import { init, use, type ECharts } from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';
import type { LoadView } from '@keyroster/contract';
import { formatShortDate, type WeekLoad } from '@keyroster/core';
import { colours } from '../ui/colours';

use([BarChart, LineChart, GridComponent, LegendComponent, TooltipComponent, SVGRenderer]);

/** What fits into a week, as far as somebody said. */
const fits = (loads: readonly WeekLoad[]) => loads.reduce((sum, l) => sum + (l.fits ?? 0), 0);

/** The newsroom’s weeks: posts planned as bars, what fits after absences as a stepped line, days away beside. */
export function drawLoad(element: HTMLElement, { weeks, people, today }: LoadView): ECharts {
  const { verdigris, ink, soft, hair, brass, sheet } = colours(element);
  const font = getComputedStyle(element).fontFamily;
  const chart = init(element, null, { renderer: 'svg' });
  const ofWeek = (i: number) => people.map((p) => p.loads[i]!);
  const over = weeks.map((_, i) =>
    ofWeek(i).reduce((sum, l) => sum + (l.fits === null ? 0 : Math.max(0, l.posts - l.fits)), 0),
  );
  const posts = weeks.map((_, i) => ofWeek(i).reduce((sum, l) => sum + l.posts, 0));
  chart.setOption({
    animation: false,
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
      data: weeks.map((w) => formatShortDate(w, today).replace(/^\w+ /, '')),
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
      {
        name: 'planned',
        type: 'bar',
        stack: 'posts',
        barCategoryGap: '45%',
        data: posts.map((n, i) => n - over[i]! || null),
        itemStyle: { color: verdigris },
      },
      {
        name: 'more than fits',
        type: 'bar',
        stack: 'posts',
        data: over.map((n) => n || null),
        itemStyle: { color: brass },
      },
      {
        name: 'fits, after absences',
        type: 'line',
        step: 'middle',
        symbol: 'none',
        data: weeks.map((_, i) => fits(ofWeek(i))),
        lineStyle: { color: ink, width: 2, type: 'dashed' },
        itemStyle: { color: ink },
      },
    ],
  });
  element.querySelector('svg')?.setAttribute('aria-hidden', 'true');
  return chart;
}
