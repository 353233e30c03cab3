// Assembly: a count filled at one touch, and Enter on an idle page is the large bar.
import { $ } from "./dom.js";

export function bindAssembly() {
  const form = $("[data-assembly]");
  if (!form) return;
  form.addEventListener("click", (event) => {
    const all = event.target.closest("[data-fill]");
    if (!all) return;
    const line = all.closest(".count-line");
    const field = $("input", line);
    field.value = all.dataset.fill;
    const rest = [...form.querySelectorAll("[data-fill], .step-bar")];
    rest[rest.indexOf(all) + 1]?.focus();
  });
  if (document.activeElement === document.body) {
    const first = $("input:not([type=hidden]):not([disabled])", form) ?? $("[data-first], a.step-bar");
    first?.focus({ preventScroll: true });
  }
}
