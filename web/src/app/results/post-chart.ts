import { BarChart } from 'echarts/charts';
import { GridComponent, TooltipComponent } from 'echarts/components';
import { init, use, type ECharts } from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';
import { formatShortDate } from '@keyroster/core';
import { colours } from '../ui/colours';

use([BarChart, GridComponent, TooltipComponent, SVGRenderer]);

const FIRST_DAYS = 7;

/** Reads of a post a day from its release on; its first week, by which posts are compared, stands out. */
export function drawPostDays(
  element: HTMLElement,
  days: readonly { day: string; value: number }[],
  today: string,
): ECharts {
  const { verdigris, ink, soft, hair, sheet } = colours(element);
  const fontFamily = getComputedStyle(element).fontFamily;
  const chart = init(element, null, { renderer: 'svg' });
  chart.setOption({
    animation: false,
    textStyle: { fontFamily, color: soft },
    grid: { left: 44, right: 10, top: 10, bottom: 26 },
    tooltip: {
      trigger: 'axis',
      confine: true,
      backgroundColor: sheet,
      borderColor: hair,
      textStyle: { color: ink, fontFamily, fontSize: 12 },
    },
    xAxis: {
      type: 'category',
      data: days.map((d) => formatShortDate(d.day, today)),
      axisTick: { show: false },
      axisLine: { lineStyle: { color: ink } },
      axisLabel: { color: soft, hideOverlap: true },
    },
    yAxis: {
      type: 'value',
      minInterval: 1,
      splitLine: { lineStyle: { color: hair } },
      axisLabel: { color: soft },
    },
    series: [
      {
        name: 'reads',
        type: 'bar',
        barMaxWidth: 22,
        data: days.map(({ value }, i) => ({
          value,
          itemStyle: { color: verdigris, opacity: i < FIRST_DAYS ? 0.95 : 0.4 },
        })),
      },
    ],
  });
  element.querySelector('svg')?.setAttribute('aria-hidden', 'true');
  return chart;
}
