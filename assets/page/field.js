// One field: its parts, what it says beneath, and what was typed in it and not saved.
import { $, $$, page } from "./dom.js";

export const fieldOf = (element) => element?.closest?.(".field") ?? null;
export const inputOf = (field) => $("input.figure, input.words, textarea.words, select.choice", field);
export const evidenceOf = (field) => $("select.evidence", field);
export const labelOf = (field) => $(".label", field)?.textContent.trim() ?? "A field";

/** The origin beside a field, also one that is said of *none* only. */
export function setOrigin(select, value) {
  if (![...select.options].some((option) => option.value === value)) select.add(new Option(value));
  select.value = value;
}

const draftKey = (field) => `arc-stack:${page.dataset.build}:${field.dataset.path}`;

export function say(field, words, kind) {
  const message = $(".beneath", field);
  const span = document.createElement("span");
  span.className = kind;
  span.textContent = words;
  message.replaceChildren(span);
}

/** True where text or origin differs from what is saved. */
export function differs(field) {
  const input = inputOf(field);
  const origin = evidenceOf(field);
  return input.value.trim() !== input.dataset.accepted.trim() || Boolean(origin && origin.value !== origin.dataset.accepted);
}

export function keepDraft(field) {
  if (!differs(field)) {
    localStorage.removeItem(draftKey(field));
    return;
  }
  field.classList.add("draft");
  localStorage.setItem(draftKey(field), JSON.stringify({ text: inputOf(field).value, origin: evidenceOf(field)?.value ?? "" }));
}

export function dropDraft(field) {
  localStorage.removeItem(draftKey(field));
  field.classList.remove("draft", "refused", "unsaved");
}

/** What stands in the field now, as the server has it. */
export function setAccepted(field, told, shown = true) {
  const input = inputOf(field);
  const origin = evidenceOf(field);
  input.dataset.accepted = told.text;
  if (shown) input.value = told.text;
  if (origin && told.evidence) {
    setOrigin(origin, told.evidence);
    origin.dataset.accepted = told.evidence;
  }
}

function readDraft(field) {
  const kept = localStorage.getItem(draftKey(field));
  if (kept === null) return null;
  try {
    const draft = JSON.parse(kept);
    if (typeof draft?.text === "string") return draft;
  } catch {
    // kept by an earlier version, as bare text
  }
  return { text: kept, origin: "" };
}

export function restoreDrafts() {
  for (const field of $$(".field[data-path]")) {
    const input = inputOf(field);
    if (!field.dataset.path || !input || input.tagName === "SELECT") continue;
    const draft = readDraft(field);
    if (draft === null) continue;
    input.value = draft.text;
    if (evidenceOf(field) && draft.origin) setOrigin(evidenceOf(field), draft.origin);
    if (!differs(field)) {
      localStorage.removeItem(draftKey(field));
      continue;
    }
    field.classList.add("draft");
    say(field, `Typed before, not saved; ${input.dataset.accepted || "nothing"} is what stands. Enter accepts, Esc drops it.`, "pending");
  }
}
