// Fields, section drawing and keys. Figures are worked on the server; nothing here computes one.
const $ = (selector, root = document) => root.querySelector(selector);
const $$ = (selector, root = document) => [...root.querySelectorAll(selector)];
const bench = $(".bench");
const PAUSE = 300;

// ---- fields -----------------------------------------------------------------------------------------------

const fieldOf = (element) => element.closest?.(".field");
const inputOf = (field) => $("input.figure, input.words, select.choice", field);
const evidenceOf = (field) => $("select.evidence", field);
const SITTING = () => document.body.dataset.sitting === "yes";
const ORIGINS = ["measured", "printed", "assumed"];
const draftKey = (field) => `arc-stack:${bench.dataset.build}:${field.dataset.path}`;

let queue = Promise.resolve();
let timer = 0;
let waitingPreview = null;
let sliderTimer = 0;

function send(field, mode) {
  const input = inputOf(field);
  if (mode === "preview") {
    waitingPreview = field;
  } else if (waitingPreview === field) {
    waitingPreview = null;
  }
  queue = queue.then(() => {
    if (mode === "preview" && waitingPreview !== field) return undefined;
    if (mode === "preview") waitingPreview = null;
    field.classList.add("busy");
    return htmx.ajax("POST", bench.dataset[mode], {
      source: field,
      target: field,
      swap: "none",
      values: {
        path: field.dataset.path,
        text: input.value,
        evidence: evidenceOf(field)?.value ?? "",
        base: $("#base").value,
        stage: bench.dataset.stage,
        side: bench.dataset.side,
        mode,
      },
    });
  });
}

/** The origin beside a field, also one that is said of *none* only. */
function setOrigin(select, value) {
  if (![...select.options].some((option) => option.value === value)) select.add(new Option(value));
  select.value = value;
}

let asking = null;

/** Measured has an instrument and a hand: asked once a sitting, before the field is sent. */
function askSitting(field) {
  asking = field;
  $("#sitting-wrong").textContent = "";
  $("#sitting").showModal();
  $("#sitting-instrument").select();
}

function bindSitting() {
  const dialog = $("#sitting");
  if (!dialog) return;
  let named = false;
  $("form", dialog).addEventListener("submit", async (event) => {
    if (event.submitter?.value !== "named") return;
    event.preventDefault();
    const form = event.target;
    const answer = await fetch(form.dataset.action, {
      method: "POST",
      headers: { "X-CSRFToken": $("meta[name='csrf-token']").content },
      body: new FormData(form),
    }).catch(() => null);
    if (answer?.status !== 204) {
      $("#sitting-wrong").textContent = answer ? await answer.text() : "The program does not answer.";
      return;
    }
    document.body.dataset.sitting = "yes";
    named = true;
    dialog.close();
  });
  dialog.addEventListener("close", () => {
    const field = asking;
    asking = null;
    if (!field) return;
    const control = evidenceOf(field) ?? inputOf(field);
    if (!named) control.value = "assumed";
    named = false;
    accept(field);
    inputOf(field).focus();
  });
}

function measures(field) {
  const control = evidenceOf(field) ?? (field.dataset.path.endsWith("_from") ? inputOf(field) : null);
  return control?.value === "measured" && control.dataset.accepted !== "measured";
}

function sayNone(field) {
  const input = inputOf(field);
  if (!$("[data-none]", field)) {
    say(field, "There is always one; leave it empty while it is not known.", "wrong");
    return;
  }
  input.value = "none";
  accept(field);
}

function turnOrigin(field) {
  const select = evidenceOf(field);
  if (!select || select.value === "said") return;
  setOrigin(select, ORIGINS[(ORIGINS.indexOf(select.value) + 1) % ORIGINS.length]);
}

function accept(field) {
  clearTimeout(timer);
  const input = inputOf(field);
  const evidence = evidenceOf(field);
  if (asking) return;
  if (measures(field) && !SITTING() && input.value.trim() !== "") {
    askSitting(field);
    return;
  }
  const unchanged = input.value.trim() === input.dataset.accepted;
  if (unchanged && (!evidence || evidence.value === evidence.dataset.accepted)) {
    if (field.classList.contains("draft")) dropDraft(field);
    return;
  }
  if (evidence && input.value.trim() === "" && input.dataset.accepted === "") return;
  // Enter accepts, and leaving the field would accept the same again
  const sending = `${input.value}|${evidence?.value ?? ""}`;
  if (field.dataset.sending === sending) return;
  field.dataset.sending = sending;
  send(field, "edit");
}

function say(field, words, kind) {
  const message = $(".beneath", field);
  const span = document.createElement("span");
  span.className = kind;
  span.textContent = words;
  message.replaceChildren(span);
}

function keepDraft(field) {
  const input = inputOf(field);
  if (input.value.trim() === input.dataset.accepted) return localStorage.removeItem(draftKey(field));
  field.classList.add("draft");
  return localStorage.setItem(draftKey(field), input.value);
}

function dropDraft(field) {
  localStorage.removeItem(draftKey(field));
  field.classList.remove("draft", "refused", "unsaved");
}

function restoreDrafts() {
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

function finished(ctx) {
  const field = ctx.sourceElement;
  if (!field?.classList?.contains("field") || !ctx.values) return;
  field.classList.remove("busy");
  if (ctx.values.mode === "edit") delete field.dataset.sending;
  const status = ctx.response?.status;
  if (ctx.response?.headers.get("X-Stored")) {
    dropDraft(field);
    say(field, "Saved; the page could not be drawn. Reload it.", "wrong");
    return;
  }
  if (status === undefined || status >= 500) {
    const edits = ctx.values.mode === "edit";
    field.classList.toggle("unsaved", edits);
    keepDraft(field);
    const known = status === undefined ? "No answer, so it is not known whether it was saved." : "Not saved: the program is in trouble.";
    say(field, edits ? `${known} Kept here; accept it again when it runs.` : "The program does not answer. Kept here as typed.", "wrong");
    return;
  }
  field.classList.toggle("refused", status === 422);
  if (status !== 200) return;
  field.classList.remove("unsaved");
  if (ctx.values.mode !== "edit") return;
  const input = inputOf(field);
  const told = JSON.parse(ctx.response.headers.get("X-Accepted") ?? "null");
  if (!told) return;
  // tables that a slider asks for are asked for again, at where the slider stands
  clearTimeout(sliderTimer);
  sliderTimer = setTimeout(() => {
    $$("form.slider").forEach((form) => htmx.trigger(form, "input"));
    $$("[data-follows]").forEach((part) => htmx.trigger(part, "again"));
  }, 500);
  const untouched = input.value === ctx.values.text;
  input.dataset.accepted = told.text;
  if (evidenceOf(field)) {
    setOrigin(evidenceOf(field), told.evidence);
    evidenceOf(field).dataset.accepted = told.evidence;
  }
  if (untouched) {
    input.value = told.text;
    dropDraft(field);
  }
}

function nextField(field, step) {
  const all = $$(".field").map(inputOf).filter((input) => input.offsetParent !== null);
  const next = all[all.indexOf(inputOf(field)) + step];
  if (!next) return;
  next.focus();
  next.select?.();
  next.scrollIntoView({ block: "nearest" });
}

function bindFields() {
  document.addEventListener("input", (event) => {
    const field = fieldOf(event.target);
    if (!field || event.target.tagName !== "INPUT") return;
    keepDraft(field);
    clearTimeout(timer);
    if (field.dataset.path !== "name" && (event.target.classList.contains("figure") || field.dataset.path.endsWith(".table"))) {
      timer = setTimeout(() => send(field, "preview"), PAUSE);
    }
  });
  document.addEventListener("change", (event) => {
    const field = fieldOf(event.target);
    if (field) accept(field);
  });
  // rows of a tester's table keep their ends, which a single line would lose
  document.addEventListener("paste", (event) => {
    const text = event.clipboardData?.getData("text") ?? "";
    if (!fieldOf(event.target) || !event.target.matches("input.words") || !/[\r\n]/.test(text.trim())) return;
    event.preventDefault();
    const rows = text.trim().split(/\s*[\r\n]+\s*/).map((row) => row.replace(/\t+/g, " "));
    event.target.setRangeText(rows.join("; "), event.target.selectionStart, event.target.selectionEnd, "end");
    event.target.dispatchEvent(new Event("input", { bubbles: true }));
  });
  document.addEventListener("keydown", (event) => {
    const field = fieldOf(event.target);
    if (!field || event.altKey || event.ctrlKey || event.metaKey) return;
    if (event.key === "Enter") {
      event.preventDefault();
      accept(field);
      nextField(field, event.shiftKey ? -1 : 1);
    } else if (event.key === "Escape" && event.target.tagName === "INPUT") {
      clearTimeout(timer);
      event.target.value = event.target.dataset.accepted;
      dropDraft(field);
      send(field, "preview");
    }
  });
  document.addEventListener("htmx:finally:request", (event) => finished(event.detail.ctx));
  document.addEventListener("click", (event) => {
    const none = event.target.closest("[data-none]");
    if (none) sayNone(fieldOf(none));
  });
  document.addEventListener("keydown", (event) => {
    const field = fieldOf(event.target);
    if (!field || !event.altKey || event.ctrlKey || event.metaKey) return;
    const act = { e: turnOrigin, 0: sayNone }[event.key.toLowerCase()];
    if (!act) return;
    event.preventDefault();
    act(field);
  });
  bindSitting();
  document.addEventListener("click", (event) => {
    const keep = event.target.closest("[data-keep-mine]");
    const take = event.target.closest("[data-take-theirs]");
    if (!keep && !take) return;
    const field = document.getElementById(`f-${(keep ?? take).dataset.path}`);
    if (take) {
      if (field) dropDraft(field);
      location.reload();
      return;
    }
    $("#base").value = keep.dataset.keepMine;
    if (field) send(field, "edit");
  });
  restoreDrafts();
}

// ---- section drawing --------------------------------------------------------------------------------------

let frames = null;
let index = null;

function readFrames() {
  const data = $("#frames");
  frames = data ? JSON.parse(data.textContent) : null;
  if (!frames) return;
  const kept = Number(sessionStorage.getItem("arc-stack:cam-angle") ?? "0");
  index = Math.min(Math.max(kept - frames.first, 0), frames.lift.length - 1);
  turn(index);
}

function turn(to) {
  if (!frames) return;
  index = Math.min(Math.max(to, 0), frames.lift.length - 1);
  const lift = frames.lift[index];
  const angle = index + frames.first;
  sessionStorage.setItem("arc-stack:cam-angle", String(angle));
  const drawing = $("svg.section");
  for (const part of $$("[data-travel]", drawing)) {
    part.setAttribute("transform", `translate(0 ${part.dataset.travel * lift})`);
  }
  for (const span of $$("[data-travel1]", drawing)) {
    for (const end of ["1", "2"]) {
      span.setAttribute(`y${end}`, Number(span.dataset[`rest${end}`]) + span.dataset[`travel${end}`] * lift);
    }
  }
  for (const lobe of $$("[data-turn]", drawing)) {
    lobe.setAttribute("transform", `rotate(${angle} ${lobe.dataset.turn})`);
  }
  for (const arm of $$("[data-swing]", drawing)) {
    arm.setAttribute("transform", `rotate(${frames.swing[index]} ${arm.dataset.swing})`);
  }
  const words = frames.words[index];
  for (const live of $$("[data-live]")) {
    if (words[live.dataset.live] !== undefined) live.textContent = words[live.dataset.live];
  }
  for (const badge of $$("[data-mark]", drawing)) {
    const level = words[`${badge.dataset.mark}-level`];
    if (!level) continue;
    badge.classList.remove("clear", "tight", "fail", "open", "waived");
    badge.classList.add(level);
  }
  for (const name of ["outer", "inner"]) {
    const spring = $(`.part[data-part="${name}"]`, drawing);
    spring?.classList.toggle("is-solid", words[`${name}-level`] === "fail");
  }
  const scrub = $("#scrub");
  if (scrub) {
    const curve = $("svg", scrub);
    const x = Number(curve.dataset.firstX) + index * Number(curve.dataset.stepX);
    $(".handle", curve).setAttribute("transform", `translate(${x} 0)`);
    $(".handle-ring", curve).setAttribute("cy", curve.dataset.y.split(" ")[index]);
    scrub.setAttribute("aria-valuenow", angle);
    scrub.setAttribute("aria-valuetext", `${words.angle} from the nose, net lift ${words.lift}`);
  }
}

function indexAt(event) {
  const curve = $("#scrub svg");
  const box = curve.getBoundingClientRect();
  const across = ((event.clientX - box.left) / box.width) * curve.viewBox.baseVal.width;
  return Math.round((across - Number(curve.dataset.firstX)) / Number(curve.dataset.stepX));
}

function bindDrawing() {
  let dragging = false;
  document.addEventListener("pointerdown", (event) => {
    const scrub = event.target.closest("#scrub");
    if (!scrub) return;
    dragging = true;
    event.preventDefault();
    scrub.focus({ preventScroll: true });
    turn(indexAt(event));
  });
  document.addEventListener("pointermove", (event) => dragging && turn(indexAt(event)));
  for (const name of ["pointerup", "pointercancel"]) document.addEventListener(name, () => (dragging = false));
  document.addEventListener("keydown", (event) => {
    if (event.target.id !== "scrub" || event.altKey) return;
    const steps = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1, PageDown: -10, PageUp: 10 };
    const to =
      event.key in steps ? index + steps[event.key]
      : event.key === "Home" ? 0
      : event.key === "End" ? frames.lift.length - 1
      : event.key.toLowerCase() === "n" ? -frames.first
      : null;
    if (to === null) return;
    event.preventDefault();
    turn(to);
  });
  const light = (part, on) => {
    $$(".lit").forEach((element) => element.classList.remove("lit"));
    if (!on || !part) return;
    $$(`[data-part="${part}"]`).forEach((element) => element.classList.add("lit"));
  };
  document.addEventListener("focusin", (event) => {
    if (event.target.closest(".fields")) light(event.target.closest(".group[data-part]")?.dataset.part, true);
  });
  document.addEventListener("pointerover", (event) => {
    const part = event.target.closest("svg.section [data-part]");
    if (part) light(part.dataset.part, true);
  });
  document.addEventListener("click", (event) => {
    const part = event.target.closest("svg.section [data-part]");
    const group = part && $(`.group[data-part="${part.dataset.part}"]`);
    if (!group) return;
    group.scrollIntoView({ block: "start" });
    $("input.figure", group)?.focus({ preventScroll: true });
  });
  readFrames();
}

// ---- drawers and keys -------------------------------------------------------------------------------------

function bindDrop() {
  document.addEventListener("dragover", (event) => event.target.id === "table" && event.preventDefault());
  document.addEventListener("drop", async (event) => {
    const file = event.target.id === "table" && event.dataTransfer?.files[0];
    if (!file) return;
    event.preventDefault();
    event.target.value = file.size > 1_000_000 ? "" : await file.text();
    const form = event.target.closest("form");
    if (file.size > 1_000_000) {
      const carried = new DataTransfer();
      carried.items.add(file);
      $("input[type='file']", form).files = carried.files;
    }
    form.requestSubmit();
  });
}

const WHICH_MARGINS = "arc-stack:margins";

/** All margins of the side, or those of this stage and what fails elsewhere, as the browser remembers. */
function showMargins() {
  const margins = $("#margins");
  if (!margins) return;
  const chosen = localStorage.getItem(WHICH_MARGINS) ?? "all";
  margins.dataset.which = chosen;
  for (const button of margins.querySelectorAll("[data-show]")) {
    button.setAttribute("aria-pressed", String(button.dataset.show === chosen));
  }
}

function bindPage() {
  showMargins();
  bindDrop();
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
      localStorage.setItem(WHICH_MARGINS, which);
      showMargins();
    }
    if (event.target.tagName === "DIALOG") event.target.close();
    if (event.target.closest("#drawer a")) $("#drawer").close();
  });
  document.addEventListener("keydown", (event) => {
    const typing = event.target.matches("input, select, textarea");
    if (event.key === "?" && !typing) {
      $("#keys").showModal();
      return;
    }
    if (!event.altKey || event.ctrlKey || event.metaKey) return;
    const key = event.key.toLowerCase();
    const to =
      /^[1-7]$/.test(key) ? `[data-stage-link="${key}"]`
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
    queue.then(() => $(to)?.click());
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

bindPage();
if (bench) {
  bindFields();
  bindDrawing();
}
document.documentElement.dataset.ready = "true";
