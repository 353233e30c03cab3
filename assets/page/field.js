// One field: its parts, what it says beneath, and what was typed in it and not saved.
import { $, $$, page } from "./dom.js";

export const fieldOf = (element) => element.closest?.(".field");
export const inputOf = (field) => $("input.figure, input.words, select.choice", field);
export const evidenceOf = (field) => $("select.evidence", field);

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

export function keepDraft(field) {
  const input = inputOf(field);
  if (input.value.trim() === input.dataset.accepted) return localStorage.removeItem(draftKey(field));
  field.classList.add("draft");
  return localStorage.setItem(draftKey(field), input.value);
}

export function dropDraft(field) {
  localStorage.removeItem(draftKey(field));
  field.classList.remove("draft", "refused", "unsaved");
}

export function restoreDrafts() {
  for (const field of $$(".field")) {
    const draft = localStorage.getItem(draftKey(field));
    const input = inputOf(field);
    if (draft === null || input.tagName === "SELECT") continue;
    if (draft.trim() === input.dataset.accepted) {
      localStorage.removeItem(draftKey(field));
      continue;
    }
    input.value = draft;
    field.classList.add("draft");
    say(field, `Typed before, not saved; ${input.dataset.accepted || "nothing"} is what stands. Enter accepts, Esc drops it.`, "pending");
  }
}

