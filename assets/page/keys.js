// Keys that work anywhere on a page.
import { $ } from "./dom.js";
import { afterAll } from "./queue.js";

export function bindKeys() {
  document.addEventListener("keydown", (event) => {
    const typing = event.target.matches("input, select, textarea");
    if (event.key === "?" && !typing) {
      $("#keys").showModal();
      return;
    }
    if (!event.altKey || event.ctrlKey || event.metaKey) return;
    const key = event.key.toLowerCase();
    const to =
      /^[1-9]$/.test(key) ? `[data-stage-link="${key}"]`
      : key === "s" ? "[data-other-side]"
      : key === "u" ? '[data-units] button[aria-pressed="false"]'
      : key === "z" ? "#undo:not([disabled])"
      : key === "y" ? "#redo:not([disabled])"
      : key === "m" ? '[data-show][aria-pressed="false"]'
      : null;
    if (!to) return;
    event.preventDefault();
    // what stands in the field is accepted first, and the answer may bring a new button
    document.activeElement?.blur?.();
    afterAll(() => $(to)?.click());
  });
}
