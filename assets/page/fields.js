// Fields as they are typed: previewed, accepted, refused.
import { $, $$ } from "./dom.js";
import { dropDraft, evidenceOf, fieldOf, inputOf, keepDraft, restoreDrafts, say, setOrigin } from "./field.js";
import { send } from "./queue.js";
import { askSitting, bindSitting, isAsking, seated } from "./sitting.js";

const PAUSE = 300;
const ORIGINS = ["measured", "printed", "assumed"];

let timer = 0;
let sliderTimer = 0;

function measures(field) {
  const control = evidenceOf(field) ?? (field.dataset.path.endsWith("_from") ? inputOf(field) : null);
  return control?.value === "measured" && control.dataset.accepted !== "measured";
}

function sayNone(field) {
  const input = inputOf(field);
  if (!$("[data-none]", field)) {
    say(field, "There is always one; leave it empty while it is not known.", "wrong");
    return;
  }
  input.value = "none";
  accept(field);
}

function turnOrigin(field) {
  const select = evidenceOf(field);
  if (!select || select.value === "said") return;
  setOrigin(select, ORIGINS[(ORIGINS.indexOf(select.value) + 1) % ORIGINS.length]);
}

function accept(field) {
  clearTimeout(timer);
  const input = inputOf(field);
  const evidence = evidenceOf(field);
  if (isAsking()) return;
  if (measures(field) && !seated() && input.value.trim() !== "") {
    askSitting(field);
    return;
  }
  const unchanged = input.value.trim() === input.dataset.accepted;
  if (unchanged && (!evidence || evidence.value === evidence.dataset.accepted)) {
    if (field.classList.contains("draft")) dropDraft(field);
    return;
  }
  if (evidence && input.value.trim() === "" && input.dataset.accepted === "") return;
  // Enter accepts, and leaving the field would accept the same again
  const sending = `${input.value}|${evidence?.value ?? ""}`;
  if (field.dataset.sending === sending) return;
  field.dataset.sending = sending;
  send(field, "edit");
}

function finished(ctx) {
  const field = ctx.sourceElement;
  if (!field?.classList?.contains("field") || !ctx.values) return;
  field.classList.remove("busy");
  if (ctx.values.mode === "edit") delete field.dataset.sending;
  const status = ctx.response?.status;
  if (ctx.response?.headers.get("X-Stored")) {
    dropDraft(field);
    say(field, "Saved; the page could not be drawn. Reload it.", "wrong");
    return;
  }
  if (status === undefined || status >= 500) {
    const edits = ctx.values.mode === "edit";
    field.classList.toggle("unsaved", edits);
    keepDraft(field);
    const known = status === undefined ? "No answer, so it is not known whether it was saved." : "Not saved: the program is in trouble.";
    say(field, edits ? `${known} Kept here; accept it again when it runs.` : "The program does not answer. Kept here as typed.", "wrong");
    return;
  }
  field.classList.toggle("refused", status === 422);
  if (status !== 200) return;
  field.classList.remove("unsaved");
  if (ctx.values.mode !== "edit") return;
  const input = inputOf(field);
  const told = JSON.parse(ctx.response.headers.get("X-Accepted") ?? "null");
  if (!told) return;
  // tables that a slider asks for are asked for again, at where the slider stands
  clearTimeout(sliderTimer);
  sliderTimer = setTimeout(() => {
    $$("form.slider").forEach((form) => htmx.trigger(form, "input"));
    $$("[data-follows]").forEach((part) => htmx.trigger(part, "again"));
  }, 500);
  const untouched = input.value === ctx.values.text;
  input.dataset.accepted = told.text;
  if (evidenceOf(field)) {
    setOrigin(evidenceOf(field), told.evidence);
    evidenceOf(field).dataset.accepted = told.evidence;
  }
  if (untouched) {
    input.value = told.text;
    dropDraft(field);
  }
}

function nextField(field, step) {
  const all = $$(".field").map(inputOf).filter((input) => input.offsetParent !== null);
  const next = all[all.indexOf(inputOf(field)) + step];
  if (!next) return;
  next.focus();
  next.select?.();
  next.scrollIntoView({ block: "nearest" });
}

export function bindFields() {
  document.addEventListener("input", (event) => {
    const field = fieldOf(event.target);
    if (!field || event.target.tagName !== "INPUT") return;
    keepDraft(field);
    clearTimeout(timer);
    if (field.dataset.path !== "name" && (event.target.classList.contains("figure") || field.dataset.path.endsWith(".table"))) {
      timer = setTimeout(() => send(field, "preview"), PAUSE);
    }
  });
  document.addEventListener("change", (event) => {
    const field = fieldOf(event.target);
    if (field) accept(field);
  });
  // rows of a tester's table keep their ends, which a single line would lose
  document.addEventListener("paste", (event) => {
    const text = event.clipboardData?.getData("text") ?? "";
    if (!fieldOf(event.target) || !event.target.matches("input.words") || !/[\r\n]/.test(text.trim())) return;
    event.preventDefault();
    const rows = text.trim().split(/\s*[\r\n]+\s*/).map((row) => row.replace(/\t+/g, " "));
    event.target.setRangeText(rows.join("; "), event.target.selectionStart, event.target.selectionEnd, "end");
    event.target.dispatchEvent(new Event("input", { bubbles: true }));
  });
  document.addEventListener("keydown", (event) => {
    const field = fieldOf(event.target);
    if (!field || event.altKey || event.ctrlKey || event.metaKey) return;
    if (event.key === "Enter") {
      event.preventDefault();
      accept(field);
      nextField(field, event.shiftKey ? -1 : 1);
    } else if (event.key === "Escape" && event.target.tagName === "INPUT") {
      clearTimeout(timer);
      event.target.value = event.target.dataset.accepted;
      dropDraft(field);
      send(field, "preview");
    }
  });
  document.addEventListener("htmx:finally:request", (event) => finished(event.detail.ctx));
  document.addEventListener("click", (event) => {
    const none = event.target.closest("[data-none]");
    if (none) sayNone(fieldOf(none));
  });
  document.addEventListener("keydown", (event) => {
    const field = fieldOf(event.target);
    if (!field || !event.altKey || event.ctrlKey || event.metaKey) return;
    const act = { e: turnOrigin, 0: sayNone }[event.key.toLowerCase()];
    if (!act) return;
    event.preventDefault();
    act(field);
  });
  bindSitting(accept);
  document.addEventListener("click", (event) => {
    const keep = event.target.closest("[data-keep-mine]");
    const take = event.target.closest("[data-take-theirs]");
    if (!keep && !take) return;
    const field = document.getElementById(`f-${(keep ?? take).dataset.path}`);
    if (take) {
      if (field) dropDraft(field);
      location.reload();
      return;
    }
    $("#base").value = keep.dataset.keepMine;
    if (field) send(field, "edit");
  });
  restoreDrafts();
}
