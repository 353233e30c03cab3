// Curves: the series come worked from the server; this only draws them.
import { LineChart } from "echarts/charts";
import { AriaComponent, DataZoomInsideComponent, GridComponent, LegendComponent, MarkLineComponent, MarkPointComponent, TooltipComponent } from "echarts/components";
import { init, use } from "echarts/core";
import { SVGRenderer } from "echarts/renderers";

use([LineChart, AriaComponent, DataZoomInsideComponent, GridComponent, LegendComponent, MarkLineComponent, MarkPointComponent, TooltipComponent, SVGRenderer]);

const INK = "#1d2329";
const MUTED = "#5b646d";
const HAIR = "#d8d2c4";
const PETROL = "#0d5c66";
const CARD = "#fbf9f4";
const FONT = "B612, sans-serif";
const STYLES = {
  piston: { color: MUTED, width: 1.5, type: "solid" },
  valve: { color: PETROL, width: 2.2, type: "solid" },
  phased: { color: PETROL, width: 2.2, type: "dashed" },
  gap: { color: INK, width: 2.2, type: "solid" },
  other: { color: "#8a5600", width: 1.8, type: "solid" },
  otherDashed: { color: "#8a5600", width: 1.8, type: "dashed" },
  green: { color: "#2c6e49", width: 1.8, type: "solid" },
  red: { color: "#b3261e", width: 1.8, type: "solid" },
  violet: { color: "#5d3a8a", width: 1.8, type: "solid" },
  faint: { color: HAIR, width: 1.5, type: "solid" },
  muted: { color: MUTED, width: 1.2, type: "dashed" },
};

const AXIS = {
  nameTextStyle: { color: MUTED, fontFamily: FONT, fontSize: 12 },
  axisLabel: { color: MUTED, fontFamily: FONT, fontSize: 12, hideOverlap: true },
  axisLine: { lineStyle: { color: INK } },
  splitLine: { lineStyle: { color: HAIR } },
};

const LEGEND = { itemWidth: 30, itemGap: 14, textStyle: { color: INK, fontFamily: FONT, fontSize: 13 } };

/** A figure to so many places; nothing has no sign. */
const plain = (value, decimals) => Number(value).toFixed(decimals).replace(/^-(?=[0.]*$)/, "");

const minus = (text) => text.replaceAll("-", "−");

/** A name that a builder gave, as text of a tooltip that is made of HTML. */
const safe = (text) => String(text).replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);

function tooltip(format) {
  return {
    trigger: "axis",
    axisPointer: { type: "line", lineStyle: { color: PETROL } },
    backgroundColor: CARD,
    borderColor: INK,
    textStyle: { color: INK, fontFamily: FONT, fontSize: 13 },
    valueFormatter: (value) => (value === null || value === undefined ? "–" : format(value)),
  };
}

// upright marks with their words at the top, level limits with theirs at the right
function guides(marks, limits) {
  const label = (position) => ({ formatter: "{b}", color: MUTED, fontFamily: FONT, fontSize: 11, position, distance: 2 });
  return {
    silent: true,
    symbol: "none",
    animation: false,
    data: [
      ...(marks ?? []).map((m) => ({ xAxis: m.x, name: m.text, label: { ...label(m.along ? "insideEndTop" : "end"), ...(m.along ? { distance: 6 } : {}), ...(m.align ? { align: m.align } : {}) }, lineStyle: { color: m.strong ? INK : MUTED, type: m.strong ? "solid" : "dashed", width: m.strong ? 1.5 : 1 } })),
      ...(limits ?? []).map((l) => ({ yAxis: l.y, name: l.text, label: label("insideEndTop"), lineStyle: { color: l.style === "zero" ? INK : "#b3261e", type: l.style === "zero" ? "solid" : "dashed", width: 1.2 } })),
    ],
  };
}

// what is left open: a band between two lines, under the lines themselves
function band(name, x, low, high, axis) {
  const plain = { type: "line", showSymbol: false, silent: true, tooltip: { show: false }, emphasis: { disabled: true }, stack: `${name}-${axis.xAxisIndex}`, stackStrategy: "all", lineStyle: { opacity: 0 }, itemStyle: { opacity: 0 }, ...axis };
  const known = x.map((_, i) => low[i] !== null && high[i] !== null);
  return [
    { ...plain, name: `${name} `, data: x.map((at, i) => [at, known[i] ? low[i] : null]) },
    { ...plain, name: `${name}  `, data: x.map((at, i) => [at, known[i] ? high[i] - low[i] : null]), areaStyle: { color: PETROL, opacity: 0.16 } },
  ];
}

function line(s, x, axis, extra) {
  return {
    name: s.name,
    type: "line",
    data: x.map((at, i) => [at, s.y[i]]),
    showSymbol: s.dots === true,
    symbolSize: 6,
    lineStyle: s.dots === true ? { opacity: 0 } : STYLES[s.style],
    itemStyle: { color: STYLES[s.style].color },
    emphasis: { disabled: true },
    ...axis,
    ...extra,
  };
}

// several panels over one axis, with one cursor through all
function panelled(data) {
  const names = data.legend ?? [...new Set(data.panels.flatMap((p) => p.series.map((s) => s.name)))];
  const first = names.length > 4 ? 66 : 44;
  const between = 30;
  const heights = data.panels.map((p, i) => p.height ?? [150, 78, 92][i] ?? 80);
  const tops = heights.map((_, i) => first + heights.slice(0, i).reduce((sum, h) => sum + h + between, 0));
  const each = (make) => data.panels.map((panel, i) => make(panel, i));
  const last = data.panels.length - 1;
  const decimals = new Map(data.panels.flatMap((p) => p.series.map((s) => [s.name, p.decimals ?? 3])));
  return {
    animation: false,
    textStyle: { fontFamily: FONT },
    legend: { ...LEGEND, top: 2, left: 150, right: 10, data: names, icon: "path://M0 3h30v3H0z", type: "plain" },
    axisPointer: { link: [{ xAxisIndex: "all" }], lineStyle: { color: PETROL } },
    tooltip: {
      ...tooltip((value) => value),
      formatter: (rows) => {
        const shown = rows.filter((r) => decimals.has(r.seriesName));
        if (!shown.length) return "";
        const words = shown.map((r) => `${r.marker} ${safe(r.seriesName)}  <b>${r.value[1] === null ? "–" : minus(plain(r.value[1], decimals.get(r.seriesName)))}</b>`);
        return [`${minus(plain(shown[0].value[0], data.x_decimals ?? 0))} ${safe(data.x_unit ?? "")}`, ...new Set(words)].join("<br>");
      },
    },
    dataZoom: [{ type: "inside", xAxisIndex: data.panels.map((_, i) => i), zoomOnMouseWheel: "ctrl", moveOnMouseMove: "ctrl" }],
    grid: each((_, i) => ({ left: 64, right: 18, top: tops[i], height: heights[i] })),
    xAxis: each((_, i) => ({ type: "value", gridIndex: i, min: data.x_interval ? Math.floor(data.x[0] / data.x_interval) * data.x_interval : data.x[0], max: data.x[data.x.length - 1], ...(data.x_interval === undefined ? { interval: 60 } : data.x_interval ? { interval: data.x_interval } : {}), ...AXIS, axisLabel: { ...AXIS.axisLabel, show: i === last, ...(data.x_interval === undefined ? {} : { showMaxLabel: false, showMinLabel: data.x_interval > 0 }) }, splitLine: { show: false }, axisLine: { onZero: true, lineStyle: { color: INK } }, ...(i === last ? { name: data.x_name, nameLocation: "middle", nameGap: 24 } : {}) })),
    yAxis: each((panel, i) => ({ type: "value", gridIndex: i, name: panel.name, nameLocation: "end", nameGap: 8, splitNumber: heights[i] > 120 ? 4 : 2, scale: panel.scale === true, ...(panel.least === undefined ? {} : { min: panel.least }), ...AXIS, nameTextStyle: { ...AXIS.nameTextStyle, align: "left" }, axisLine: { show: true, onZero: false, lineStyle: { color: INK } } })),
    series: data.panels.flatMap((panel, i) => {
      const axis = { xAxisIndex: i, yAxisIndex: i };
      return panel.series.flatMap((s, k) => [
        ...(s.low ? band(s.name, data.x, s.low, s.high, axis) : []),
        line(s, data.x, axis, k === 0 && ((i === 0 && data.marks?.length) || panel.limits || panel.marks) ? { markLine: guides([...(i === 0 ? (data.marks ?? []) : []), ...(panel.marks ?? [])], panel.limits) } : {}),
      ]);
    }),
  };
}

function single(data) {
  const series = data.series.map((s) => line(s, data.x, {}, {}));
  const last = series[series.length - 1];
  if (data.point) {
    last.markPoint = {
      symbol: "circle",
      symbolSize: 9,
      data: [{ coord: [data.point.x, data.point.y] }],
      itemStyle: { color: CARD, borderColor: INK, borderWidth: 2 },
      label: { show: true, formatter: data.point.text, position: "top", distance: 8, color: INK, fontFamily: FONT, fontSize: 14, fontWeight: 700, backgroundColor: CARD, padding: [2, 4] },
      animation: false,
    };
  }
  last.markLine = guides(data.marks, [...(data.no_zero ? [] : [{ y: 0, text: "", style: "zero" }]), ...(data.limits ?? [])]);
  const step = data.x_interval ?? 20;
  const ends = data.last !== undefined ? { min: data.first, max: data.last } : step ? { min: Math.floor(data.x[0] / step) * step, max: Math.ceil(data.x[data.x.length - 1] / step) * step, interval: step } : { min: data.x[0], max: data.x[data.x.length - 1] };
  return {
    animation: false,
    aria: { enabled: false },
    textStyle: { fontFamily: FONT },
    grid: { left: 62, right: 18, top: 44, bottom: 42 },
    legend: { ...LEGEND, top: 4, left: 110, right: 10 },
    tooltip: tooltip((value) => `${plain(value, data.decimals)} ${data.y_name}`.replace("-", "−")),
    xAxis: { type: "value", axisTick: { show: true }, ...ends, inverse: data.x_inverse === true, name: data.x_name, nameLocation: "middle", nameGap: 26, ...AXIS, axisLabel: { ...AXIS.axisLabel, ...(step ? {} : { showMinLabel: false, showMaxLabel: false }) }, splitLine: { show: false }, axisLine: { onZero: false, lineStyle: { color: INK } } },
    yAxis: { type: "value", name: data.y_name, nameLocation: "end", ...AXIS, axisLine: { show: true, onZero: false, lineStyle: { color: INK } } },
    series,
  };
}

const drawn = new Map();

function height(data) {
  if (!data.panels?.some((p) => p.height)) return null;
  const names = data.legend ?? [...new Set(data.panels.flatMap((p) => p.series.map((s) => s.name)))];
  return (names.length > 4 ? 66 : 44) + data.panels.reduce((sum, p) => sum + p.height + 30, 0) + 22;
}

function pickable(host, chart, data) {
  chart.getZr().on("click", (event) => {
    const at = [event.offsetX, event.offsetY];
    if (!data.panels?.some((_, i) => chart.containPixel({ gridIndex: i }, at))) return;
    const [x] = chart.convertFromPixel({ gridIndex: 0 }, at);
    host.dispatchEvent(new CustomEvent("chart-pick", { bubbles: true, detail: { x } }));
  });
}

function draw() {
  for (const [host, chart] of drawn) {
    if (host.isConnected) continue;
    chart.dispose();
    drawn.delete(host);
  }
  for (const host of document.querySelectorAll(".chart[data-chart]")) {
    if (drawn.has(host)) continue;
    const data = JSON.parse(host.dataset.chart);
    const tall = height(data);
    if (tall) host.style.height = `${tall}px`;
    const chart = init(host, null, { renderer: "svg" });
    chart.setOption(data.panels ? panelled(data) : single(data));
    if ("pick" in host.dataset) pickable(host, chart, data);
    host.addEventListener("chart-show", (event) => chart.dispatchAction({ type: "showTip", seriesIndex: 0, dataIndex: event.detail.index }));
    drawn.set(host, chart);
  }
}

const resize = () => drawn.forEach((chart) => chart.resize());
document.addEventListener("htmx:after:swap", draw);
window.addEventListener("resize", resize);
// what was folded had no width
document.addEventListener("toggle", resize, true);
// a printed page is narrower than the screen: 680 px fit within the usual margins of A4 and Letter
const PRINTED = 680;
window.addEventListener("beforeprint", () => {
  const box = document.querySelector("#work");
  const room = box ? box.clientWidth - 2 * Number.parseFloat(getComputedStyle(box).paddingLeft) : PRINTED;
  drawn.forEach((chart, host) => {
    chart.resize({ width: host.clientWidth * Math.min(1, PRINTED / room) });
    // drawn now, not with the next frame, which comes after the page has gone out
    chart.getZr().flush();
  });
});
window.addEventListener("afterprint", () => drawn.forEach((chart) => chart.resize({ width: "auto" })));
draw();
