import { BarChart, CustomChart, LineChart } from 'echarts/charts';
import { GridComponent, LegendComponent, TooltipComponent } from 'echarts/components';
import { init, use, type ECharts } from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';
import type { GroupLine, ResultsView } from '@keyroster/contract';
import { formatShortDate } from '@keyroster/core';
import { colours } from '../ui/colours';

use([BarChart, CustomChart, LineChart, GridComponent, LegendComponent, TooltipComponent, SVGRenderer]);

const common = (element: HTMLElement) => {
  const { ink, soft, hair, sheet } = colours(element);
  const fontFamily = getComputedStyle(element).fontFamily;
  return {
    animation: false,
    textStyle: { fontFamily, color: soft },
    tooltip: {
      trigger: 'axis' as const,
      confine: true,
      backgroundColor: sheet,
      borderColor: hair,
      textStyle: { color: ink, fontFamily, fontSize: 12 },
    },
    legend: { top: 0, left: 0, itemWidth: 16, itemHeight: 9, textStyle: { color: soft, fontFamily } },
  };
};

/** Draws into an element of its own, so that each chart on a screen can be given what it shows. */
function drawn(element: HTMLElement, option: Parameters<ECharts['setOption']>[0]): ECharts {
  const chart = init(element, null, { renderer: 'svg' });
  chart.setOption(option);
  element.querySelector('svg')?.setAttribute('aria-hidden', 'true');
  return chart;
}

/** Reads a day, and as far into the period before. */
export function drawDays(element: HTMLElement, days: ResultsView['days'], today: string): ECharts {
  const { verdigris, ink, soft, hair } = colours(element);
  return drawn(element, {
    ...common(element),
    grid: { left: 48, right: 10, top: 30, bottom: 26 },
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
        type: 'line',
        showSymbol: false,
        data: days.map((d) => d.reads),
        lineStyle: { color: verdigris, width: 2 },
        itemStyle: { color: verdigris },
        areaStyle: { color: verdigris, opacity: 0.12 },
      },
      {
        name: 'the period before',
        type: 'line',
        showSymbol: false,
        data: days.map((d) => d.before),
        lineStyle: { color: soft, width: 1, type: 'dashed' },
        itemStyle: { color: soft },
      },
    ],
  });
}

/** The part of an item that is drawn by hand: a line with a cap at each end, where the median lies. */
interface Placed {
  value(dimension: number): number;
  coord(point: [number, number]): [number, number];
}

/** Medians of groups as bars, with the interval each lies in; those of too few are pale and have none. */
export function drawGroups(element: HTMLElement, groups: readonly GroupLine[]): ECharts {
  const { verdigris, ink, soft, hair } = colours(element);
  const shown = [...groups].reverse();
  return drawn(element, {
    ...common(element),
    legend: { show: false },
    grid: { left: 8, right: 22, top: 6, bottom: 8, containLabel: true },
    xAxis: {
      type: 'value',
      splitLine: { lineStyle: { color: hair } },
      axisLabel: { color: soft, hideOverlap: true },
    },
    yAxis: {
      type: 'category',
      data: shown.map((g) => g.label),
      axisTick: { show: false },
      axisLine: { lineStyle: { color: ink } },
      axisLabel: { color: ink, width: 150, overflow: 'truncate' },
    },
    series: [
      {
        name: 'median',
        type: 'bar',
        barMaxWidth: 16,
        data: shown.map((g) => ({
          value: g.median,
          itemStyle: { color: verdigris, opacity: g.low === null ? 0.25 : 0.85 },
        })),
      },
      {
        name: 'lies between',
        type: 'custom',
        tooltip: { show: false },
        encode: { x: [1, 2], y: 0 },
        data: shown.flatMap((g, i) => (g.low === null ? [] : [[i, g.low, g.high!]])),
        renderItem: (_params: unknown, api: Placed) => {
          const row = api.value(0);
          const [from, to] = [api.coord([api.value(1), row]), api.coord([api.value(2), row])];
          const style = { stroke: ink, lineWidth: 1.5 };
          const line = (x1: number, y1: number, x2: number, y2: number) => ({
            type: 'line' as const,
            shape: { x1, y1, x2, y2 },
            style,
          });
          return {
            type: 'group' as const,
            children: [
              line(from[0], from[1], to[0], to[1]),
              line(from[0], from[1] - 4, from[0], from[1] + 4),
              line(to[0], to[1] - 4, to[0], to[1] + 4),
            ],
          };
        },
        z: 10,
      },
    ],
  } as Parameters<ECharts['setOption']>[0]);
}
