// The map's cursor, what links map, sweep and trace, and the coils in motion. Figures come worked from the server.
const $ = (selector, root = document) => root.querySelector(selector);

// ---- map --------------------------------------------------------------------------------------------------

let at = null;

function mapParts() {
  const map = $("#map");
  const data = $("#map-data");
  if (!map || !data) return null;
  return { map, data: JSON.parse(data.textContent), svg: $("svg", map), cursor: $(".cursor", map) };
}

const nearest = (values, value) => values.reduce((best, v, i) => (Math.abs(v - value) < Math.abs(values[best] - value) ? i : best), 0);

function place(parts, column, row) {
  const { data, cursor } = parts;
  at = { column: Math.min(Math.max(column, 0), data.angles.length - 1), row: Math.min(Math.max(row, 0), data.speeds.length - 1) };
  const edge = (name) => Number(cursor.dataset[name]);
  const x = edge("left") + (at.column / (data.angles.length - 1)) * (edge("right") - edge("left"));
  const y = edge("bottom") - (at.row / (data.speeds.length - 1)) * (edge("bottom") - edge("top"));
  const [level, upright] = cursor.querySelectorAll("line");
  level.setAttribute("y1", y);
  level.setAttribute("y2", y);
  upright.setAttribute("x1", x);
  upright.setAttribute("x2", x);
  const ring = $("circle", cursor);
  ring.setAttribute("cx", x);
  ring.setAttribute("cy", y);
  cursor.classList.add("shown");
  const force = data.force[at.row][at.column];
  const angle = `${data.angles[at.column]}°`.replace("-", "−");
  const told = force === null ? "off the lobe" : force < 0 ? `parted, ${String(force).replace("-", "−")} ${data.unit}` : `${force} ${data.unit}`;
  const read = $("#map-read");
  read.textContent = `${angle}, ${data.speeds[at.row].toLocaleString("en")} rpm: ${told}`;
  read.classList.toggle("parted", force !== null && force < 0);
}

function fromPointer(parts, event) {
  const box = parts.svg.getBoundingClientRect();
  const view = parts.svg.viewBox.baseVal;
  const scale = Math.min(box.width / view.width, box.height / view.height);
  const x = (event.clientX - box.left - (box.width - view.width * scale) / 2) / scale;
  const y = (event.clientY - box.top - (box.height - view.height * scale) / 2) / scale;
  const edge = (name) => Number(parts.cursor.dataset[name]);
  const { data } = parts;
  place(
    parts,
    Math.round(((x - edge("left")) / (edge("right") - edge("left"))) * (data.angles.length - 1)),
    Math.round(((edge("bottom") - y) / (edge("bottom") - edge("top"))) * (data.speeds.length - 1)),
  );
}

function toTrace(rpm) {
  const field = $("#trace-rpm");
  if (!field) return;
  field.value = String(Math.round(rpm));
  sessionStorage.setItem("arc-stack:trace-rpm", field.value);
  document.getElementById("trace-part").open = true;
  htmx.trigger("#trace-form", "submit");
}

document.addEventListener("pointermove", (event) => {
  const parts = event.target.closest?.("#map") && mapParts();
  if (parts) fromPointer(parts, event);
});
document.addEventListener("click", (event) => {
  const parts = event.target.closest?.("#map svg") && mapParts();
  if (!parts) return;
  fromPointer(parts, event);
  toTrace(parts.data.speeds[at.row]);
});
document.addEventListener("keydown", (event) => {
  if (event.target.id !== "map" || event.altKey || event.ctrlKey || event.metaKey) return;
  const parts = mapParts();
  if (!at) at = { column: Math.floor(parts.data.angles.length / 2), row: nearest(parts.data.speeds, Number($("#trace-rpm").value)) };
  const step = event.shiftKey ? 5 : 1;
  const moves = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] };
  if (moves[event.key]) {
    event.preventDefault();
    place(parts, at.column + moves[event.key][0], at.row + moves[event.key][1]);
  } else if (event.key === "Enter") {
    event.preventDefault();
    toTrace(parts.data.speeds[at.row]);
  }
});
document.addEventListener("chart-pick", (event) => {
  if (event.target.closest("#sweep")) toTrace(event.detail.x);
});
document.addEventListener("submit", (event) => {
  if (event.target.closest("#trace-form, #map-gas") || event.target.getAttribute("hx-target") === "#sweep") event.preventDefault();
});

// ---- coils ------------------------------------------------------------------------------------------------

const SVG = "http://www.w3.org/2000/svg";
let coils = null;

function draw(name, attributes, parent) {
  const element = document.createElementNS(SVG, name);
  for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, value);
  parent.append(element);
  return element;
}

function setUp() {
  const host = $("#coils");
  const frames = $("#coil-frames", host ?? document);
  if (!host || !frames || coils?.host === host) return;
  if (coils) cancelAnimationFrame(coils.timer);
  const data = JSON.parse(frames.textContent);
  const picture = $(".coil-picture", host);
  const tallest = Math.max(...data.springs.map((s) => s.height));
  const scale = 190 / tallest;
  const seat = 236;
  const width = 170 / data.springs.length;
  draw("line", { x1: 6, y1: seat, x2: 184, y2: seat, class: "coil-seat" }, picture);
  const cam = draw("line", { x1: 6, x2: 184, class: "coil-cam" }, picture);
  const springs = data.springs.map((spring, n) => {
    const left = 12 + n * (width + 4);
    const words = draw("text", { x: left + width / 2 - 6, y: 248, class: "coil-words" }, picture);
    words.textContent = spring.name;
    return {
      spring,
      retainer: draw("rect", { x: left - 4, width: width - 4, height: 6, class: "coil-retainer" }, picture),
      // each turn of wire goes across in front and comes back behind
      bars: [...spring.coils[0], 0].map((_, i) => draw("line", i % 2 ? { x1: left + width - 14, x2: left, class: "coil-bar far" } : { x1: left, x2: left + width - 14, class: "coil-bar" }, picture)),
    };
  });
  coils = { host, data, springs, cam, scale, seat, place: 0, timer: 0, playing: false };
  show(0);
  if (coils.data.springs.length === 0) host.hidden = true;
}

function show(index) {
  const { data, springs, scale, seat, cam, host } = coils;
  coils.place = index;
  for (const { spring, retainer, bars } of springs) {
    const top = seat - (spring.height - data.valve[index]) * scale;
    retainer.setAttribute("y", top - 6);
    const heights = spring.coils[index];
    const touch = (spring.solid / (heights.length + 1)) * 1.02;
    const ends = [spring.height - data.valve[index], ...heights, 0];
    bars.forEach((bar, i) => {
      bar.setAttribute("y1", seat - ends[i] * scale);
      bar.setAttribute("y2", seat - ends[i + 1] * scale);
      bar.classList.toggle("touching", ends[i] - ends[i + 1] <= touch);
    });
  }
  const tall = springs[0].spring.height;
  const y = seat - (tall - data.cam[index]) * scale - 8;
  cam.setAttribute("y1", y);
  cam.setAttribute("y2", y);
  cam.classList.toggle("parted", data.cam[index] > 0.3 && data.valve[index] - data.cam[index] > 0.02);
  $("[data-coil='angle']", host).textContent = `${Math.round(data.angle[index]) || 0}°`.replace("-", "−");
  $("[data-coil='time']", host).textContent = `${(data.seconds[index] * 1000).toFixed(2)} ms`;
  $("[data-coil-at]", host).value = String(index);
}

function play(now) {
  if (!coils?.playing || !coils.host.isConnected) return;
  const slow = Number($("[data-coil-slow]", coils.host).value);
  const { seconds } = coils.data;
  const whole = seconds[seconds.length - 1];
  const elapsed = ((now - coils.since) / 1000 / slow + coils.from) % whole;
  let index = seconds.findIndex((s) => s >= elapsed);
  if (index < 0) index = seconds.length - 1;
  show(index);
  coils.timer = requestAnimationFrame(play);
}

function toggle(to) {
  coils.playing = to;
  const key = $("[data-coil-play]", coils.host);
  key.textContent = to ? "Hold" : "Play";
  key.setAttribute("aria-pressed", String(to));
  coils.since = performance.now();
  coils.from = coils.data.seconds[coils.place];
  if (to) coils.timer = requestAnimationFrame(play);
  else cancelAnimationFrame(coils.timer);
}

document.addEventListener("click", (event) => {
  if (coils && event.target.closest("[data-coil-play]")) toggle(!coils.playing);
});
document.addEventListener("input", (event) => {
  if (!coils || !event.target.matches("[data-coil-at]")) return;
  if (coils.playing) toggle(false);
  show(Number(event.target.value));
  const chart = $("#trace .chart");
  const x = JSON.parse(chart.dataset.chart).x;
  chart.dispatchEvent(new CustomEvent("chart-show", { detail: { index: nearest(x, coils.data.angle[coils.place]) } }));
});
document.addEventListener("change", (event) => {
  if (coils?.playing && event.target.matches("[data-coil-slow]")) toggle(true);
});

// ---- page -------------------------------------------------------------------------------------------------

document.addEventListener("htmx:after:swap", setUp);
const kept = sessionStorage.getItem("arc-stack:trace-rpm");
if (kept && $("#trace-rpm")) $("#trace-rpm").value = kept;
setUp();
