// Keys that work anywhere on a page.
import { $ } from "./dom.js";
import { differs, fieldOf } from "./field.js";
import { sendAgain } from "./fields.js";
import { keepFocus } from "./focus.js";
import { afterAll } from "./queue.js";
import { firstWrong, goTo } from "./unsaved.js";

/** A click once everything that was sent is answered; the answer may bring a new button. */
function press(selector) {
  keepFocus();
  // what stands in the field is accepted first
  document.activeElement?.blur?.();
  afterAll(() => {
    const button = $(selector);
    if (!button) sessionStorage.removeItem("arc-stack:focus");
    button?.click();
  });
}

/** True where Ctrl Z is the browser's own: something is being typed that is not saved. */
function isTyping(target) {
  if (!target.matches("input, textarea")) return false;
  const field = fieldOf(target);
  return field?.dataset.path ? differs(field) : target.type !== "range" && target.value !== target.defaultValue;
}

function steps(event) {
  const key = event.key.toLowerCase();
  const to = key === "z" ? (event.shiftKey ? "#redo" : "#undo") : key === "y" ? "#redo" : null;
  if (!to || isTyping(event.target)) return;
  const back = $("#back-form");
  if (back) {
    // at the bench it takes back the last thing of this page, never the design unseen
    event.preventDefault();
    if (to === "#undo") back.requestSubmit();
    return;
  }
  if (!$(to) || !$("[data-path]")) return;
  event.preventDefault();
  press(`${to}:not([disabled])`);
}

export function bindKeys() {
  document.addEventListener("keydown", (event) => {
    const typing = event.target.matches("input, select, textarea");
    if (event.key === "?" && !typing) {
      $("#keys").showModal();
      return;
    }
    if ((event.ctrlKey || event.metaKey) && !event.altKey) {
      steps(event);
      return;
    }
    const key = event.key.toLowerCase();
    if (key === "w" && !typing && !event.altKey) {
      const from = event.target.closest("[data-weakest]") ?? ($("#drawer")?.open ? $("#drawer [data-weakest]") : null);
      if (from) {
        $("#drawer").close();
        location.assign(from.dataset.weakest);
      }
      return;
    }
    if (!event.altKey || event.ctrlKey || event.metaKey) return;
    if (key === "g" && firstWrong()) {
      event.preventDefault();
      goTo(firstWrong());
      return;
    }
    if (key === "r") {
      event.preventDefault();
      sendAgain();
      return;
    }
    const to =
      /^[1-9]$/.test(key) ? `[data-stage-link="${key}"]`
      : key === "s" ? "[data-other-side]"
      : key === "u" ? '[data-units] button[aria-pressed="false"]'
      : key === "z" ? "#undo:not([disabled])"
      : key === "y" ? "#redo:not([disabled])"
      : key === "m" ? '[data-show][aria-pressed="false"]'
      : key === "c" ? "[data-copy]"
      : key === "h" ? "[data-help]"
      : key === "l" ? "[data-sets]"
      : null;
    if (!to) return;
    event.preventDefault();
    press(to);
  });
}
