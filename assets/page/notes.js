// A note on a field, written in a dialog of its own.
import { $ } from "./dom.js";
import { fieldOf, inputOf, labelOf } from "./field.js";

let about = null;

function open(field) {
  const dialog = $("#note-dialog");
  if (!dialog || !field?.dataset.path || field.closest("dialog") || ["name", "note"].includes(field.dataset.path)) return;
  about = field;
  const own = $("#note-field");
  own.dataset.path = `note:${field.dataset.path}`;
  $(".beneath", own).id = `m-${own.dataset.path}`;
  $(".beneath", own).replaceChildren();
  $("#note-title").textContent = `Note on ${labelOf(field)}`;
  inputOf(own).value = $(".noted", field)?.textContent ?? "";
  inputOf(own).dataset.accepted = inputOf(own).value;
  dialog.showModal();
  inputOf(own).focus();
}

export function bindNotes(accept) {
  const dialog = $("#note-dialog");
  document.addEventListener("click", (event) => {
    if (event.target.closest("[data-note]")) open(fieldOf(event.target));
  });
  document.addEventListener("keydown", (event) => {
    if (event.altKey && !event.ctrlKey && event.key.toLowerCase() === "n" && fieldOf(event.target)) {
      event.preventDefault();
      open(fieldOf(event.target));
    }
    if (event.key === "Enter" && event.target.id === "note-text") {
      event.preventDefault();
      accept($("#note-field"));
      if (event.target.value.trim() === event.target.dataset.accepted) dialog.close();
    }
  });
  document.addEventListener("accepted", (event) => {
    if (event.target.id === "note-field") dialog.close();
  });
  dialog.addEventListener("close", () => {
    $("#note-field").dataset.path = "";
    if (about) inputOf(about)?.focus();
    about = null;
  });
}
