// Curves: the series come worked from the server; this only draws them.
import { LineChart } from "echarts/charts";
import { AriaComponent, DataZoomInsideComponent, GridComponent, LegendComponent, MarkLineComponent, MarkPointComponent, TooltipComponent } from "echarts/components";
import { init, use } from "echarts/core";
import { SVGRenderer } from "echarts/renderers";

use([LineChart, AriaComponent, DataZoomInsideComponent, GridComponent, LegendComponent, MarkLineComponent, MarkPointComponent, TooltipComponent, SVGRenderer]);

const INK = "#1d2329";
const MUTED = "#5b646d";
const HAIR = "#d8d2c4";
const FONT = "B612, sans-serif";
const STYLES = {
  piston: { color: MUTED, width: 1.5, type: "solid" },
  valve: { color: "#0d5c66", width: 2.2, type: "solid" },
  phased: { color: "#0d5c66", width: 2.2, type: "dashed" },
  gap: { color: INK, width: 2.2, type: "solid" },
  other: { color: "#8a5600", width: 1.8, type: "solid" },
  green: { color: "#2c6e49", width: 1.8, type: "solid" },
  red: { color: "#b3261e", width: 1.8, type: "solid" },
  violet: { color: "#5d3a8a", width: 1.8, type: "solid" },
  faint: { color: HAIR, width: 1.5, type: "solid" },
};

const AXIS = {
  nameTextStyle: { color: MUTED, fontFamily: FONT, fontSize: 12 },
  axisLabel: { color: MUTED, fontFamily: FONT, fontSize: 12 },
  axisLine: { lineStyle: { color: INK } },
  splitLine: { lineStyle: { color: HAIR } },
};

// several panels over one angle axis, with one cursor through all
function panelled(data) {
  const tops = [40, 218, 322];
  const heights = [150, 78, 92];
  const each = (make) => data.panels.map((panel, i) => make(panel, i));
  const last = data.panels.length - 1;
  return {
    animation: false,
    textStyle: { fontFamily: FONT },
    legend: { top: 2, left: 150, itemWidth: 30, textStyle: { color: INK, fontFamily: FONT, fontSize: 13 }, data: [...new Set(data.panels[0].series.map((s) => s.name))] },
    axisPointer: { link: [{ xAxisIndex: "all" }], lineStyle: { color: "#0d5c66" } },
    tooltip: {
      trigger: "axis",
      backgroundColor: "#fbf9f4",
      borderColor: INK,
      textStyle: { color: INK, fontFamily: FONT, fontSize: 13 },
      valueFormatter: (value) => (value === null || value === undefined ? "–" : Number(value).toFixed(3)),
    },
    dataZoom: [{ type: "inside", xAxisIndex: data.panels.map((_, i) => i), zoomOnMouseWheel: "ctrl" }],
    grid: each((_, i) => ({ left: 60, right: 18, top: tops[i], height: heights[i] })),
    xAxis: each((_, i) => ({ type: "value", gridIndex: i, min: data.x[0], max: data.x[data.x.length - 1], interval: 60, ...AXIS, axisLabel: { ...AXIS.axisLabel, show: i === last }, splitLine: { show: false }, axisLine: { onZero: true, lineStyle: { color: INK } }, ...(i === last ? { name: data.x_name, nameLocation: "middle", nameGap: 24 } : {}) })),
    yAxis: each((panel, i) => ({ type: "value", gridIndex: i, name: panel.name, nameLocation: "end", nameGap: 8, splitNumber: i === 0 ? 4 : 2, ...AXIS, nameTextStyle: { ...AXIS.nameTextStyle, align: "left" }, axisLine: { show: true, onZero: false, lineStyle: { color: INK } } })),
    series: data.panels.flatMap((panel, i) =>
      panel.series.map((s) => ({
        name: s.name,
        type: "line",
        xAxisIndex: i,
        yAxisIndex: i,
        data: data.x.map((x, k) => [x, s.y[k]]),
        showSymbol: false,
        lineStyle: STYLES[s.style],
        itemStyle: { color: STYLES[s.style].color },
        emphasis: { disabled: true },
        ...(i === 0 && s === panel.series[0] && data.marks?.length ? { markLine: { silent: true, symbol: "none", animation: false, lineStyle: { color: MUTED, type: "dashed", width: 1 }, label: { formatter: "{b}", color: MUTED, fontFamily: FONT, fontSize: 11, position: "end", distance: 2 }, data: data.marks.map((m) => ({ xAxis: m.x, name: m.text })) } } : {}),
      })),
    ),
  };
}

let drawn = null;

function option(data) {
  const series = data.series.map((s) => ({
    name: s.name,
    type: "line",
    data: data.x.map((x, i) => [x, s.y[i]]),
    showSymbol: false,
    lineStyle: STYLES[s.style],
    itemStyle: { color: STYLES[s.style].color },
    emphasis: { disabled: true },
  }));
  const last = series[series.length - 1];
  last.markPoint = {
    symbol: "circle",
    symbolSize: 9,
    data: [{ coord: [data.point.x, data.point.y] }],
    itemStyle: { color: "#fbf9f4", borderColor: INK, borderWidth: 2 },
    label: { show: true, formatter: data.point.text, position: "top", distance: 8, color: INK, fontFamily: FONT, fontSize: 14, fontWeight: 700, backgroundColor: "#fbf9f4", padding: [2, 4] },
    animation: false,
  };
  last.markLine = {
    silent: true,
    symbol: "none",
    label: { show: false },
    lineStyle: { color: INK, width: 1, type: "solid" },
    data: [{ yAxis: 0 }],
    animation: false,
  };
  return {
    animation: false,
    aria: { enabled: false },
    textStyle: { fontFamily: FONT },
    grid: { left: 56, right: 18, top: 40, bottom: 42 },
    legend: { top: 4, left: 90, itemWidth: 30, textStyle: { color: INK, fontFamily: FONT, fontSize: 13 } },
    tooltip: {
      trigger: "axis",
      axisPointer: { type: "line", lineStyle: { color: "#0d5c66" } },
      backgroundColor: "#fbf9f4",
      borderColor: INK,
      textStyle: { color: INK, fontFamily: FONT, fontSize: 13 },
      valueFormatter: (value) => (value === null || value === undefined ? "–" : `${Number(value).toFixed(data.decimals)} ${data.y_name}`),
    },
    xAxis: { type: "value", axisTick: { show: true }, min: Math.floor(data.x[0] / 20) * 20, max: Math.ceil(data.x[data.x.length - 1] / 20) * 20, interval: 20, name: data.x_name, nameLocation: "middle", nameGap: 26, ...AXIS, splitLine: { show: false } },
    yAxis: { type: "value", name: data.y_name, nameLocation: "end", ...AXIS, axisLine: { show: true, onZero: false, lineStyle: { color: INK } } },
    series,
  };
}

function draw() {
  const host = document.querySelector(".chart[data-chart]");
  if (!host || host === drawn?.host) return;
  drawn?.chart.dispose();
  const chart = init(host, null, { renderer: "svg" });
  const data = JSON.parse(host.dataset.chart);
  chart.setOption(data.panels ? panelled(data) : option(data));
  drawn = { host, chart };
}

document.addEventListener("htmx:after:swap", draw);
window.addEventListener("resize", () => drawn?.chart.resize());
window.addEventListener("beforeprint", () => drawn?.chart.resize());
draw();
