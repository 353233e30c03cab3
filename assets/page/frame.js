// Drawers, margins, and the jump to a field.
import { $ } from "./dom.js";
import { inputOf } from "./field.js";
import { keepFocus } from "./focus.js";
import { letGo } from "./unsaved.js";
import { chooseMargins, showMargins } from "./margins.js";
import { readFrames } from "./section.js";

const OPEN = "arc-stack:open";

/** Deeper parts of a page stay folded until asked for, and open as they were left. */
function bindFolds() {
  const kept = new Set(JSON.parse(localStorage.getItem(OPEN) ?? "[]"));
  const unfold = () => {
    const aim = location.hash && document.getElementById(decodeURIComponent(location.hash.slice(1)));
    const fold = aim && (aim.matches("details") ? aim : aim.closest("details.deeper"));
    if (fold) fold.open = true;
  };
  for (const fold of document.querySelectorAll("details.deeper")) {
    if (kept.has(fold.id)) fold.open = true;
    fold.addEventListener("toggle", () => {
      if (fold.open) kept.add(fold.id);
      else kept.delete(fold.id);
      localStorage.setItem(OPEN, JSON.stringify([...kept]));
    });
  }
  unfold();
  window.addEventListener("hashchange", unfold);
}

/** Every form of a head's page that changes something says which head it was drawn of. */
function nameHead() {
  const head = document.body.dataset.head;
  if (!head) return;
  document.addEventListener("formdata", (e) => {
    if (e.target.method === "post") e.formData.set("head", head);
  });
}

const TURNED_STAYS = 9000;
let turnedTimer = 0;

/** A step or a drawer that got no answer says so; a field says it itself. */
function unanswered(ctx) {
  const from = ctx.sourceElement;
  // what gave way to a later request was not left without an answer
  const gaveWay = ctx.request?.signal?.aborted && ctx.request.signal.reason !== "timeout";
  if (ctx.response || gaveWay || !from || from.closest?.(".field, #elastic-wait, [data-quiet], [data-rest]")) return;
  const steps = from.id === "undo" || from.id === "redo";
  const told = document.createElement("section");
  told.className = "stale";
  told.setAttribute("role", "alert");
  told.tabIndex = -1;
  told.innerHTML = "<h2>The program does not answer</h2><p></p>";
  told.lastChild.textContent = steps ? "It is not known whether that step was made. Look again when it runs." : "Nothing was opened or changed. Try it again when it runs.";
  $("#notice").replaceChildren(told);
}

/** A heading with nothing entered under it is not printed. */
function markEmptyGroups() {
  for (const group of document.querySelectorAll(".group")) {
    const inputs = [...group.querySelectorAll(".field input.figure, .field input.words, .field select.choice")];
    group.classList.toggle("nothing", inputs.every((input) => input.value === ""));
  }
}

/** Puts a form's sliders where a button says, as if a hand had moved them. */
function setAll(button) {
  for (const [name, value] of Object.entries(JSON.parse(button.dataset.sets))) {
    const input = button.form?.elements[name];
    if (!input) continue;
    input.value = value;
    input.dispatchEvent(new Event("input", { bubbles: true }));
  }
}

export function bindFrame() {
  document.addEventListener("click", (event) => {
    const button = event.target.closest("[data-sets]");
    if (button) setAll(button);
  });
  window.addEventListener("beforeprint", markEmptyGroups);
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
    if ($(".stale") && !$(".stale").contains(document.activeElement)) $(".stale").focus();
    showMargins();
    if ($("#turned")?.childElementCount) {
      clearTimeout(turnedTimer);
      turnedTimer = setTimeout(() => $("#turned").replaceChildren(), TURNED_STAYS);
    }
  });
  document.addEventListener("click", (event) => {
    if (event.target.closest("[data-print]")) window.print();
    if (event.target.closest("[data-open-keys]")) $("#keys").showModal();
    const which = event.target.closest("[data-show]")?.dataset.show;
    if (which) {
      chooseMargins(which);
    }
    if (event.target.tagName === "DIALOG") event.target.close();
    if (event.target.closest("#drawer a")) $("#drawer").close();
  });
  // after the browser's own jump to the fragment, which takes the focus away
  document.addEventListener("htmx:finally:request", (event) => unanswered(event.detail.ctx));
  // a form was drawn before the fields beside it were accepted: what it stands on is what this page stands on now
  document.addEventListener(
    "submit",
    (event) => {
      const own = event.target.querySelector("input[name='base']");
      const now = document.getElementById("base");
      if (own && now && own !== now) own.value = now.value;
    },
    true,
  );
  // the address says what is listed, so that a reload lists the same
  document.addEventListener("htmx:after:request", (event) => {
    const at = event.detail.ctx.response?.headers.get("X-Listed");
    if (at) history.replaceState(null, "", at);
  });
  // a step reads the page anew: the focus is where it was
  document.addEventListener("click", (event) => {
    if (!event.target.closest("#undo, #redo")) return;
    if (!sessionStorage.getItem("arc-stack:focus")) keepFocus();
    letGo();
  });
  const toField = () => {
    if (!location.hash.startsWith("#f-")) return;
    const field = document.getElementById(decodeURIComponent(location.hash.slice(1)));
    field?.scrollIntoView({ block: "center" });
    if (field) inputOf(field).focus({ preventScroll: true });
  };
  bindFolds();
  nameHead();
  window.addEventListener("load", () => requestAnimationFrame(toField));
  window.addEventListener("hashchange", toField);
}
