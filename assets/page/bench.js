// The bench: keys of the reading field, a gauge that types like a keyboard, and one that sends lines.
import { $ } from "./dom.js";
import { askOnce, heard, pause } from "./gauge.js";

const FAST_MS = 35; // a hand does not type one key after another so fast
const LEAST_KEYS = 3;
const LISTEN_MS = 350;

const reading = () => $("#reading");

function submit(field, text) {
  if (waits) {
    closed.push(text);
    return;
  }
  field.value = text;
  const form = field.closest("form");
  if (field.dataset.zero !== undefined) form.requestSubmit($("button:not([type=button])", form));
  else form.requestSubmit();
}

/** Digits and Enter that come faster than a hand go to the reading, wherever the cursor stands. */
function bindTypingGauge() {
  let burst = "";
  let last = 0;
  let before = null;
  document.addEventListener("keydown", (event) => {
    const field = reading();
    if (!field || event.ctrlKey || event.altKey || event.metaKey) return;
    const now = event.timeStamp; // when it was pressed, however late the page comes to it
    const fast = now - last < FAST_MS;
    last = now;
    if (event.key.length === 1) {
      if (!fast) {
        burst = "";
        const at = document.activeElement;
        before = at && "value" in at && at !== field ? { at, value: at.value } : null;
      }
      burst += event.key;
      return;
    }
    if (event.key !== "Enter" || !fast || burst.length < LEAST_KEYS || !/^[-+]?[0-9]+([.,][0-9]+)?[^0-9]*$/.test(burst)) return;
    // typed where it belongs, it is taken as it stands there; so is what is kept for the next place
    const at = document.activeElement;
    if (at === field || (waits && (!at || at === document.body || at.id === "work"))) {
      burst = "";
      return;
    }
    // what a gauge typed into another field is taken out of it again
    event.preventDefault();
    event.stopPropagation();
    if (before) before.at.value = before.value;
    const text = burst.trim();
    if (typing.endsWith(burst)) typing = typing.slice(0, -burst.length);
    burst = "";
    if (document.activeElement?.closest?.("dialog[open]")) return;
    submit(field, text);
  }, true);
}

/** The place and the figure that the field stands at. */
function meant() {
  const form = reading()?.closest("form");
  const key = reading()?.dataset.zero !== undefined ? "zero" : ($("input[name='key']", form)?.value ?? "");
  return { place: form ? ($("input[name='place']", form)?.value ?? "") : "", key };
}

let listening = 0;

async function hear(root, number) {
  const own = ++listening;
  let after = number;
  while (own === listening && document.contains(root)) {
    const { place, key } = meant();
    const told = await heard(root, root.dataset.gauge, after, place, key);
    if (own !== listening || !document.contains(root)) return;
    if (told.trouble) say(told.trouble);
    if (told.text) {
      listening += 1;
      submit(reading(), told.text);
      return;
    }
    if (told.trouble && told.after === undefined) return;
    after = told.after ?? after;
    await pause(LISTEN_MS);
  }
}

function say(text) {
  const place = $("#reading-said") ?? $("#notice");
  place.textContent = text;
}

async function ask(root) {
  const own = ++listening; // what it is asked for is taken once, here
  const { place, key } = meant();
  const told = await askOnce(root, root.dataset.gauge, place, key);
  if (own !== listening || !document.contains(root)) return;
  if (told.text) submit(reading(), told.text);
  else {
    say(told.trouble);
    hear(root, "now");
  }
}

let waits = false; // a reading was sent and is not answered yet
let typing = ""; // what a fast hand types meanwhile, and what it already closed with Enter: for the places that follow
let closed = [];

function keepAhead() {
  document.addEventListener("htmx:before:request", (event) => {
    if (event.detail.ctx.sourceElement?.id === "reading-form") waits = true;
  });
  document.addEventListener("htmx:finally:request", (event) => {
    const { sourceElement, response } = event.detail.ctx;
    if (sourceElement?.id === "reading-form" && !response) waits = false;
  });
  document.addEventListener("keydown", (event) => {
    const at = document.activeElement;
    const ours = !at || at === document.body || at.id === "work" || at === reading();
    if (!waits || !ours || event.ctrlKey || event.altKey || event.metaKey) return;
    if (event.key.length === 1) typing += event.key;
    else if (event.key === "Backspace") typing = typing.slice(0, -1);
    else if (event.key === "Enter" && typing) {
      closed.push(typing);
      typing = "";
    } else if (event.key !== "Enter") return;
    event.preventDefault();
  }, true);
}

function stand() {
  const root = $("[data-bench]");
  if (!root) return;
  const field = reading();
  waits = false;
  root.dataset.stands = "true";
  if (!field) {
    // another instrument is named first: what was typed ahead was meant for the last one
    closed = [];
    typing = "";
    return;
  }
  field.focus({ preventScroll: true });
  if (field.value !== field.defaultValue) return; // typed before this script came: the hand goes on in it
  if (field.value !== "") {
    // a question or a refusal is answered first: nothing typed ahead of it is taken for the answer
    if (closed.length || typing) say(`${$("#reading-said")?.textContent.trim() ?? ""} What was typed after it was not taken.`);
    closed = [];
    typing = "";
    field.select();
  } else if (closed.length) {
    submit(field, closed.shift());
    return;
  } else if (typing) {
    field.value = typing;
    typing = "";
  }
  if (root.dataset.gauge) hear(root, "now");
}

const onEmpty = {
  Backspace: () => $("#back-form")?.requestSubmit(),
  u: () => { const unit = $("#reading-unit"); if (unit) unit.selectedIndex = 1 - unit.selectedIndex; },
  n: () => { const note = $(".reading-note"); if (note) { note.open = true; $("input", note).focus(); } },
  s: () => $("[data-skip]")?.click(),
  " ": () => $("[data-ask-gauge]")?.click(),
};

/** A key that came before this script did stands in the field as a letter: it is taken for what it was meant to be. */
function takeEarlyKey() {
  const field = reading();
  const act = field && Object.hasOwn(onEmpty, field.value.toLowerCase()) ? onEmpty[field.value.toLowerCase()] : null;
  if (act) field.value = "";
  stand();
  act?.();
}

export function bindBench() {
  if (!$("[data-bench]")) return;
  bindTypingGauge();
  keepAhead();
  document.addEventListener("change", (event) => {
    if (event.target.matches("[data-sends]")) event.target.form.requestSubmit();
  });
  document.addEventListener("click", (event) => {
    if (event.target.closest("[data-ask-gauge]")) ask($("[data-bench]"));
    const put = event.target.closest("[data-put]");
    if (put) submit(reading(), put.dataset.put);
  });
  document.addEventListener("keydown", (event) => {
    const field = reading();
    if (event.target !== field || field.value !== "" || event.ctrlKey || event.altKey || event.metaKey) return;
    const act = onEmpty[event.key.length === 1 ? event.key.toLowerCase() : event.key];
    if (!act) return;
    event.preventDefault();
    act();
  });
  document.addEventListener("htmx:after:swap", stand);
  takeEarlyKey();
}
