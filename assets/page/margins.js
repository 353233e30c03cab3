// Which margins are shown.
import { $ } from "./dom.js";

const WHICH_MARGINS = "arc-stack:margins";

/** All margins of the side, or those of this stage and what fails elsewhere, as the browser remembers. */
export function showMargins() {
  const margins = $("#margins");
  if (!margins) return;
  const chosen = localStorage.getItem(WHICH_MARGINS) ?? "all";
  margins.dataset.which = chosen;
  for (const button of margins.querySelectorAll("[data-show]")) {
    button.setAttribute("aria-pressed", String(button.dataset.show === chosen));
  }
}

/** Remember a choice, and show it. */
export function chooseMargins(which) {
  localStorage.setItem(WHICH_MARGINS, which);
  showMargins();
}
