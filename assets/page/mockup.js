// A mock-up's wheel and dial: a linked one is asked from the field that wants it, and the hand goes on to the next.
import { $ } from "./dom.js";
import { askOnce } from "./gauge.js";

function say(text) {
  const place = $(".reading-said");
  if (place) place.textContent = text;
}

async function fill(field) {
  const form = field.form;
  const name = form.dataset[field.dataset.reads];
  const place = $("select[name='place']", form)?.value ?? "";
  say(`${name} is asked.`);
  const told = await askOnce(form, name, place, field.name);
  if (!document.contains(field)) return;
  say(told.text ? "" : told.trouble);
  if (!told.text) return;
  field.value = told.text;
  const rest = [...form.querySelectorAll("input.words, button:not([type=button])")];
  rest[rest.indexOf(field) + 1]?.focus();
}

export function bindMockUp() {
  if (!$("[data-mock]")) return;
  document.addEventListener("keydown", (event) => {
    const field = event.target;
    if (event.key !== " " || !field.dataset?.reads || field.value !== "" || !field.form?.dataset[field.dataset.reads]) return;
    event.preventDefault();
    fill(field);
  });
}
