// Fields as they are typed: previewed, accepted, refused.
import { $, $$ } from "./dom.js";
import { differs, dropDraft, evidenceOf, fieldOf, inputOf, keepDraft, restoreDrafts, say, setAccepted, setOrigin } from "./field.js";
import { bindNotes } from "./notes.js";
import { send } from "./queue.js";
import { askSitting, bindSitting, isAsking, seated } from "./sitting.js";
import { allUnsaved, letGo, tellUnsaved } from "./unsaved.js";

const PAUSE = 300;
const SETTLES = 700;
const ORIGINS = ["measured", "printed", "assumed"];

let timer = 0;
let sliderTimer = 0;
let passing = null;
let byKeys = null;

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

/** Send the field, unless it stands as it is saved; an origin without a figure waits for one. */
function accept(field) {
  clearTimeout(timer);
  const input = inputOf(field);
  const evidence = evidenceOf(field);
  if (isAsking()) return;
  if (measures(field) && !seated(field) && input.value.trim() !== "") {
    askSitting(field);
    return;
  }
  if (!differs(field)) {
    if (field.classList.contains("draft")) dropDraft(field);
    tellUnsaved();
    return;
  }
  if (evidence && input.value.trim() === "" && input.dataset.accepted === "") return;
  // Enter accepts, and leaving the field would accept the same again
  const sending = `${input.value}|${evidence?.value ?? ""}`;
  if (field.dataset.sending === sending) return;
  field.dataset.sending = sending;
  send(field, "edit");
}

/** What the arrow keys only pass through on the way to another choice is not said: only where they rest. */
function passThrough(field) {
  clearTimeout(passing?.timer);
  passing = { field, timer: setTimeout(rest, SETTLES) };
}

function rest() {
  if (!passing) return;
  clearTimeout(passing.timer);
  const { field } = passing;
  passing = null;
  accept(field);
}

const passes = (event) => event.target.matches?.(".field select") && !event.altKey && /^(Arrow|Home|End|Page|.$)/.test(event.key);

/** A refused field keeps the focus, unless another is being typed in by now. */
function holdFocus(field) {
  const now = document.activeElement;
  const other = fieldOf(now);
  if (other === field || (other && differs(other)) || now?.closest("dialog")) return;
  inputOf(field).focus({ preventScroll: true });
  inputOf(field).select?.();
}

/** The figures that another window saved, in every field that nothing was typed in. */
function showTheirs() {
  const theirs = $("#theirs");
  if (!theirs) return;
  for (const told of JSON.parse(theirs.textContent)) {
    const field = document.getElementById(`f-${told.path}`);
    if (field && told.text !== undefined) setAccepted(field, told, !field.matches(".draft, .refused"));
  }
}

function finished(ctx) {
  const field = ctx.sourceElement;
  if (!field?.classList?.contains("field") || !ctx.values) return;
  field.classList.remove("busy");
  const edits = ctx.values.mode === "edit";
  if (edits) delete field.dataset.sending;
  const status = ctx.response?.status;
  if (ctx.response?.headers.get("X-Stored")) {
    dropDraft(field);
    say(field, "Saved; the page could not be drawn. Reload it.", "wrong");
  } else if (status === undefined || status >= 500) {
    field.classList.toggle("unsaved", edits);
    keepDraft(field);
    const known = status === undefined ? "No answer, so it is not known whether it was saved." : "Not saved: the program is in trouble.";
    say(field, edits ? `${known} Kept here; accept it again when it runs.` : "The program does not answer. Kept here as typed.", "wrong");
  } else {
    field.classList.toggle("refused", status === 422 && (edits || field.classList.contains("refused")));
    if (status === 422 && edits) holdFocus(field);
    if (status === 409 || status === 200) showTheirs();
    if (status === 200) answered(field, ctx);
  }
  tellUnsaved();
}

function answered(field, ctx) {
  if (ctx.values.mode !== "edit") return;
  field.classList.remove("unsaved", "refused");
  const told = JSON.parse(ctx.response.headers.get("X-Accepted") ?? "null");
  if (!told) return;
  // tables that a slider asks for are asked for again, at where the slider stands
  clearTimeout(sliderTimer);
  sliderTimer = setTimeout(() => {
    $$("form.slider").forEach((form) => htmx.trigger(form, "input"));
    $$("[data-follows]").forEach((part) => htmx.trigger(part, "again"));
  }, 500);
  const untouched = inputOf(field).value === ctx.values.text;
  setAccepted(field, told, untouched);
  if (untouched) dropDraft(field);
  field.dispatchEvent(new CustomEvent("accepted", { bubbles: true }));
}

function nextField(field, step) {
  const all = $$("#work .field").map(inputOf).filter((input) => input.offsetParent !== null);
  const next = all[all.indexOf(inputOf(field)) + step];
  if (!next) {
    // past the last field is the next stage, before the first the list of stages
    const here = $("[data-stage-link][aria-current]");
    const links = $$("[data-stage-link]");
    (links[links.indexOf(here) + (step > 0 ? 1 : 0)] ?? here ?? links[0])?.focus();
    return;
  }
  next.focus();
  next.select?.();
  next.scrollIntoView({ block: "nearest" });
}

export function sendAgain() {
  allUnsaved().forEach((field) => {
    delete field.dataset.sending;
    accept(field);
  });
}

export function bindFields() {
  document.addEventListener("input", (event) => {
    const field = fieldOf(event.target);
    if (!field || !event.target.matches("input, textarea")) return;
    keepDraft(field);
    clearTimeout(timer);
    if (event.target.classList.contains("figure") || field.dataset.path.endsWith(".table")) {
      timer = setTimeout(() => send(field, "preview"), PAUSE);
    }
  });
  document.addEventListener("change", (event) => {
    const field = fieldOf(event.target);
    if (!field) return;
    if (differs(field)) keepDraft(field);
    if (byKeys === event.target) passThrough(field);
    else accept(field);
  });
  document.addEventListener("keydown", (event) => {
    byKeys = passes(event) ? event.target : null;
    if (!byKeys) rest();
  }, true);
  document.addEventListener("pointerdown", () => { byKeys = null; }, true);
  document.addEventListener("focusout", rest);
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
    if (!field || event.altKey || event.metaKey) return;
    const lines = event.target.tagName === "TEXTAREA";
    if (event.key === "Enter" && !event.ctrlKey && !(lines && event.shiftKey)) {
      // what stands beneath a field is pressed as any button is
      if (event.target.tagName === "BUTTON") return;
      event.preventDefault();
      accept(field);
      if (!field.closest("dialog")) nextField(field, event.shiftKey ? -1 : 1);
    } else if (event.key === "Escape" && event.target.matches("input, textarea") && !field.closest("dialog")) {
      clearTimeout(timer);
      setAccepted(field, { text: event.target.dataset.accepted, evidence: evidenceOf(field)?.dataset.accepted });
      dropDraft(field);
      tellUnsaved();
      if (event.target.classList.contains("figure")) send(field, "preview");
      else $(".beneath", field).replaceChildren();
    }
  });
  document.addEventListener("htmx:finally:request", (event) => finished(event.detail.ctx));
  document.addEventListener("click", (event) => {
    const none = event.target.closest("[data-none]");
    if (none) sayNone(fieldOf(none));
    const reading = event.target.closest("[data-reading]");
    if (reading) {
      const field = fieldOf(reading);
      inputOf(field).value = reading.dataset.reading;
      inputOf(field).focus();
      accept(field);
    }
    if (event.target.closest("[data-send-again]")) sendAgain();
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
  bindNotes(accept);
  document.addEventListener("click", (event) => {
    const keep = event.target.closest("[data-keep-mine]");
    const take = event.target.closest("[data-take-theirs]");
    if (!keep && !take) return;
    const field = document.getElementById(`f-${(keep ?? take).dataset.path}`);
    if (take) {
      if (field) dropDraft(field);
      letGo();
      location.reload();
      return;
    }
    $("#base").value = keep.dataset.keepMine;
    if (field) {
      send(field, "edit");
      inputOf(field).focus();
    }
  });
  restoreDrafts();
  tellUnsaved();
}
