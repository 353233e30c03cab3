// The section drawing turned by the lift curve under it.
import { $, $$ } from "./dom.js";

let frames = null;
let index = null;

/** Every live figure at one angle, as the server would word it. */
function wordsAt(at) {
  const degrees = at + frames.first;
  const said = { ...frames.named, angle: (degrees > 0 ? `+${degrees}°` : `${degrees}°`).replace("-", "−") };
  for (const [key, values] of Object.entries(frames.live)) {
    said[key] = `${values[at].toFixed(frames.decimals)} ${frames.unit}`.replace("-", "−");
  }
  for (const [key, levels] of Object.entries(frames.levels)) said[`${key}-level`] = levels[at];
  return said;
}

export function readFrames() {
  const data = $("#frames");
  frames = data ? JSON.parse(data.textContent) : null;
  if (!frames) return;
  const kept = Number(sessionStorage.getItem("arc-stack:cam-angle") ?? "0");
  index = Math.min(Math.max(kept - frames.first, 0), frames.lift.length - 1);
  turn(index);
}

function turn(to) {
  if (!frames) return;
  index = Math.min(Math.max(to, 0), frames.lift.length - 1);
  const lift = frames.lift[index];
  const angle = index + frames.first;
  sessionStorage.setItem("arc-stack:cam-angle", String(angle));
  const drawing = $("svg.section");
  for (const part of $$("[data-travel]", drawing)) {
    part.setAttribute("transform", `translate(0 ${part.dataset.travel * lift})`);
  }
  for (const span of $$("[data-travel1]", drawing)) {
    for (const end of ["1", "2"]) {
      span.setAttribute(`y${end}`, Number(span.dataset[`rest${end}`]) + span.dataset[`travel${end}`] * lift);
    }
  }
  for (const lobe of $$("[data-turn]", drawing)) {
    lobe.setAttribute("transform", `rotate(${angle} ${lobe.dataset.turn})`);
  }
  for (const arm of $$("[data-swing]", drawing)) {
    arm.setAttribute("transform", `rotate(${frames.swing[index]} ${arm.dataset.swing})`);
  }
  const words = wordsAt(index);
  for (const live of $$("[data-live]")) {
    if (words[live.dataset.live] !== undefined) live.textContent = words[live.dataset.live];
  }
  for (const badge of $$("[data-mark]", drawing)) {
    const level = words[`${badge.dataset.mark}-level`];
    if (!level) continue;
    badge.classList.remove("clear", "tight", "fail", "open", "waived");
    badge.classList.add(level);
  }
  for (const name of ["outer", "inner"]) {
    const spring = $(`.part[data-part="${name}"]`, drawing);
    spring?.classList.toggle("is-solid", words[`${name}-level`] === "fail");
  }
  const scrub = $("#scrub");
  if (scrub) {
    const curve = $("svg", scrub);
    const x = Number(curve.dataset.firstX) + index * Number(curve.dataset.stepX);
    $(".handle", curve).setAttribute("transform", `translate(${x} 0)`);
    $(".handle-ring", curve).setAttribute("cy", curve.dataset.y.split(" ")[index]);
    scrub.setAttribute("aria-valuenow", angle);
    scrub.setAttribute("aria-valuetext", `${words.angle} from the nose, net lift ${words.lift}`);
  }
}

function indexAt(event) {
  const curve = $("#scrub svg");
  const box = curve.getBoundingClientRect();
  const across = ((event.clientX - box.left) / box.width) * curve.viewBox.baseVal.width;
  return Math.round((across - Number(curve.dataset.firstX)) / Number(curve.dataset.stepX));
}

export function bindDrawing() {
  let dragging = false;
  document.addEventListener("pointerdown", (event) => {
    const scrub = event.target.closest("#scrub");
    if (!scrub) return;
    dragging = true;
    event.preventDefault();
    scrub.focus({ preventScroll: true });
    turn(indexAt(event));
  });
  document.addEventListener("pointermove", (event) => dragging && turn(indexAt(event)));
  for (const name of ["pointerup", "pointercancel"]) document.addEventListener(name, () => (dragging = false));
  document.addEventListener("keydown", (event) => {
    if (event.target.id !== "scrub" || event.altKey) return;
    const steps = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1, PageDown: -10, PageUp: 10 };
    const to =
      event.key in steps ? index + steps[event.key]
      : event.key === "Home" ? 0
      : event.key === "End" ? frames.lift.length - 1
      : event.key.toLowerCase() === "n" ? -frames.first
      : null;
    if (to === null) return;
    event.preventDefault();
    turn(to);
  });
  const light = (part, on) => {
    $$(".lit").forEach((element) => element.classList.remove("lit"));
    if (!on || !part) return;
    $$(`[data-part="${part}"]`).forEach((element) => element.classList.add("lit"));
  };
  document.addEventListener("focusin", (event) => {
    if (event.target.closest(".fields")) light(event.target.closest(".group[data-part]")?.dataset.part, true);
  });
  document.addEventListener("pointerover", (event) => {
    const part = event.target.closest("svg.section [data-part]");
    if (part) light(part.dataset.part, true);
  });
  document.addEventListener("click", (event) => {
    const part = event.target.closest("svg.section [data-part]");
    const group = part && $(`.group[data-part="${part.dataset.part}"]`);
    if (!group) return;
    group.scrollIntoView({ block: "start" });
    $("input.figure", group)?.focus({ preventScroll: true });
  });
  readFrames();
}
