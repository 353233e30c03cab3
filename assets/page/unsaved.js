// What is refused or not saved: told in one line wherever it stands, and asked about before the page is left.
import { $, $$ } from "./dom.js";
import { inputOf, labelOf } from "./field.js";

let leaving = false;

const held = () => $$(".field.refused, .field.unsaved, .field.draft").filter((field) => field.dataset.path && !field.closest("dialog"));

/** Let the page go without asking: what happens next was asked for. */
export function letGo() {
  leaving = true;
}

export function goTo(field) {
  field.scrollIntoView({ block: "center" });
  inputOf(field).focus({ preventScroll: true });
}

/** The line that says which fields are refused or not saved, and leads to each. */
export function tellUnsaved() {
  const line = $("#unsaved-line");
  if (!line) return;
  const wrong = held().filter((field) => field.matches(".refused, .unsaved"));
  line.hidden = wrong.length === 0;
  const names = wrong.map(labelOf).join("|");
  if (line.dataset.names === names) return;
  line.dataset.names = names;
  if (!wrong.length) {
    line.replaceChildren();
    return;
  }
  const words = document.createElement("span");
  words.textContent = wrong.some((field) => field.matches(".unsaved")) ? "Not saved: " : "Not accepted: ";
  const links = wrong.map((field) => {
    const link = document.createElement("a");
    link.href = `#f-${field.dataset.path}`;
    link.textContent = labelOf(field);
    link.addEventListener("click", (event) => {
      event.preventDefault();
      goTo(field);
    });
    return link;
  });
  line.replaceChildren(words, ...links);
  if (wrong.some((field) => field.matches(".unsaved"))) {
    const again = document.createElement("button");
    again.type = "button";
    again.className = "button quiet";
    again.dataset.sendAgain = "";
    again.textContent = "Send again (Alt R)";
    line.append(again);
  }
}

export const firstWrong = () => held().find((field) => field.matches(".refused, .unsaved"));
export const allUnsaved = () => held().filter((field) => field.matches(".unsaved"));

export function bindUnsaved() {
  const dialog = $("#leave");
  let to = null;
  document.addEventListener("click", (event) => {
    const link = event.target.closest("a[href]");
    if (!link || link.hash && link.pathname === location.pathname || link.hasAttribute("download")) return;
    if (event.ctrlKey || event.metaKey || event.shiftKey || link.target || !held().length || leaving) return;
    event.preventDefault();
    to = link.href;
    $("#leave-list").replaceChildren(
      ...held().map((field) => {
        const item = document.createElement("li");
        item.textContent = `${labelOf(field)}: ${inputOf(field).value || "nothing"}`;
        return item;
      }),
    );
    dialog.showModal();
  });
  dialog.addEventListener("click", (event) => {
    if (event.target.closest("[data-leave]")) {
      letGo();
      location.assign(to);
    }
    if (event.target.closest("[data-stay]")) {
      dialog.close();
      const field = held()[0];
      if (field) goTo(field);
    }
  });
  window.addEventListener("beforeunload", (event) => {
    if (!leaving && held().some((field) => field.matches(".refused, .unsaved"))) event.preventDefault();
  });
}
