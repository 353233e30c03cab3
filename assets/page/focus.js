// Where the focus is, and which menus stand open, kept through swaps, switches and a page read anew.
import { $, $$, page } from "./dom.js";
import { fieldOf, inputOf } from "./field.js";

const KEPT = "arc-stack:focus";

const within = (path) => path.replace(/^(intake|exhaust)\./, "");

/** Enough of an element to find it, or its like, again. */
function signature(element) {
  if (!element || element === document.body || element.id === "work") return null;
  const field = fieldOf(element);
  if (field?.dataset.path) return { path: field.dataset.path, origin: element.matches("select.evidence") };
  const place = element.closest("[id]:not(:scope)") ?? element.parentElement?.closest("[id]");
  return {
    id: element.id,
    tag: element.tagName,
    name: element.getAttribute("name") ?? "",
    words: (element.getAttribute("aria-label") ?? element.textContent).trim().slice(0, 60),
    place: place && place !== element ? place.id : "",
    nth: $$(element.tagName, place && place !== element ? place : document).indexOf(element),
  };
}

function found(mark) {
  if (mark.path !== undefined) {
    const fields = $$(".field[data-path]");
    const field = fields.find((f) => f.dataset.path === mark.path) ?? fields.find((f) => within(f.dataset.path) === within(mark.path));
    return field && ((mark.origin && $("select.evidence", field)) || inputOf(field));
  }
  if (mark.id) return document.getElementById(mark.id);
  const alike = $$(mark.tag, (mark.place && document.getElementById(mark.place)) || document);
  const same = (e) => (e.getAttribute("name") ?? "") === mark.name && (e.getAttribute("aria-label") ?? e.textContent).trim().slice(0, 60) === mark.words;
  if (alike[mark.nth] && same(alike[mark.nth])) return alike[mark.nth];
  return alike.find(same) ?? alike.find((e) => mark.name !== "" && e.getAttribute("name") === mark.name) ?? null;
}

const nowhere = () => !document.activeElement || document.activeElement === document.body || document.activeElement.id === "work";

/** Remember the focus over a page that is read anew. */
export function keepFocus() {
  const mark = signature(document.activeElement);
  if (mark) sessionStorage.setItem(KEPT, JSON.stringify(mark));
}

function focusOn(element) {
  element.focus({ preventScroll: true });
  element.scrollIntoView({ block: "nearest" });
}

// a hand that was faster than the page keeps the focus where it put it
let acted = false;

/** The field that comes first: the one that was left, else the first empty one that a verdict needs. */
export function startFocus() {
  const kept = sessionStorage.getItem(KEPT);
  sessionStorage.removeItem(KEPT);
  if (acted || location.hash.startsWith("#f-") || document.activeElement !== document.body) return;
  const back = kept && found(JSON.parse(kept));
  if (back) {
    focusOn(back);
    return;
  }
  if (location.hash) return;
  // on a touch screen a focused field covers half the page with keys
  if (!page || matchMedia("(pointer: coarse)").matches) return;
  const first = $$(".field[data-wanted]").find((field) => inputOf(field).value === "" && inputOf(field).offsetParent !== null);
  if (first) focusOn(inputOf(first));
  else $("#work")?.focus({ preventScroll: true });
}

export function bindFocus() {
  let before = null;
  // swaps may overlap: what a hand opened stays open through any of them until a hand closes it
  const menus = new Set();
  const rowOf = (menu) => menu.closest("[id]")?.id;
  document.addEventListener("toggle", ({ target }) => {
    if (target.matches?.("details.menu") && rowOf(target)) menus[target.open ? "add" : "delete"](rowOf(target));
  }, true);
  for (const sign of ["keydown", "pointerdown"]) document.addEventListener(sign, () => { acted = true; }, { once: true, capture: true });
  // what a swap took the focus from is remembered until it has it again, or a hand puts it elsewhere
  for (const sign of ["focusin", "pointerdown"]) document.addEventListener(sign, () => { before = null; }, true);
  document.addEventListener("htmx:before:swap", () => {
    for (const menu of $$("details.menu[open]")) if (rowOf(menu)) menus.add(rowOf(menu));
    before = signature(document.activeElement) ?? before;
  });
  document.addEventListener("htmx:after:swap", () => {
    for (const id of menus) {
      const menu = document.getElementById(id)?.querySelector("details.menu");
      if (menu) menu.open = true;
    }
    if (before && nowhere()) found(before)?.focus({ preventScroll: true });
  });
  document.addEventListener("submit", (event) => {
    if (event.target.matches("[data-units], .practices, .question")) keepFocus();
  });
  document.addEventListener("click", (event) => {
    if (event.target.closest("[data-other-side]")) keepFocus();
  });
  window.addEventListener("load", () => requestAnimationFrame(startFocus));
}
