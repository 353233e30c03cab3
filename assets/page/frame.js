// Drawers, margins, and the jump to a field.
import { $ } from "./dom.js";
import { inputOf } from "./field.js";
import { chooseMargins, showMargins } from "./margins.js";
import { readFrames } from "./section.js";

export function bindFrame() {
  showMargins();
  document.addEventListener("input", (event) => {
    const shows = event.target.dataset?.shows;
    if (shows) document.getElementById(shows).textContent = event.target.value;
  });
  document.addEventListener("htmx:after:swap", (event) => {
    const target = event.detail.ctx.target;
    if (target?.id === "drawer-body") {
      const drawer = $("#drawer");
      if (!drawer.open) drawer.showModal();
      return;
    }
    if ($("#frames")) readFrames();
    $(".stale")?.focus();
    showMargins();
  });
  document.addEventListener("click", (event) => {
    if (event.target.closest("[data-open-keys]")) $("#keys").showModal();
    const which = event.target.closest("[data-show]")?.dataset.show;
    if (which) {
      chooseMargins(which);
    }
    if (event.target.tagName === "DIALOG") event.target.close();
    if (event.target.closest("#drawer a")) $("#drawer").close();
  });
  // after the browser's own jump to the fragment, which takes the focus away
  const toField = () => {
    if (!location.hash.startsWith("#f-")) return;
    const field = document.getElementById(decodeURIComponent(location.hash.slice(1)));
    field?.scrollIntoView({ block: "center" });
    if (field) inputOf(field).focus({ preventScroll: true });
  };
  window.addEventListener("load", () => requestAnimationFrame(toField));
  window.addEventListener("hashchange", toField);
}
