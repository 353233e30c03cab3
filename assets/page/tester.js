// The spring tester: a linked one is asked from the field that wants its load, and the hand goes on to the next.
import { $ } from "./dom.js";
import { askOnce } from "./gauge.js";

function say(text) {
  const place = $(".reading-said");
  if (place) place.textContent = text;
}

/** Which gauge a field is read with, and what it is asked for; null for a field that is typed. */
function question(field, form) {
  if (field.dataset.testerZero !== undefined) return { root: field, name: field.dataset.gauge, place: "", key: "zero" };
  const { gauge, sort, scale, unit } = form.dataset;
  const item = $("#t-item", form).value.trim().toUpperCase().replaceAll(/\s+/g, "_");
  if (field.dataset.at === "scale") return scale ? { root: form, name: scale, place: item, key: `${sort}.mass` } : null;
  const height = field.dataset.at && $(`#${field.dataset.at}`, form);
  if (!gauge || !height) return null;
  const mm = parseFloat((height.value || height.placeholder).replace(",", ".")) * (unit === "in" ? 25.4 : 1);
  return { root: form, name: gauge, place: item, key: `${sort}@${mm.toFixed(2)}` };
}

async function fill(field, asked) {
  say(`${asked.name} is asked.`);
  const told = await askOnce(asked.root, asked.name, asked.place, asked.key);
  if (!document.contains(field)) return;
  say(told.text ? "" : told.trouble);
  if (!told.text) return;
  field.value = told.text;
  if (field.id === "t-press_load" || field.id === "zero-read") {
    field.form.requestSubmit($("button:not([type=button])", field.parentElement.parentElement) ?? undefined);
    return;
  }
  const fields = [...field.form.querySelectorAll("input:not([type=hidden])")];
  fields.slice(fields.indexOf(field) + 1).find((f) => f.dataset.at || f.id === "t-solid")?.focus();
}

export function bindTester() {
  const form = $("[data-tester]");
  if (!form && !$("[data-tester-zero]")) return;
  document.addEventListener("keydown", (event) => {
    const field = event.target;
    if (event.key !== " " || field.tagName !== "INPUT" || field.value !== "") return;
    if (field.id === "t-solid") {
      // solid is approached, never read at once
      event.preventDefault();
      $("[data-press]").open = true;
      $("#t-press_load").focus();
      return;
    }
    const asked = field.dataset.testerZero === undefined && !field.form?.matches("[data-tester]") ? null : question(field, form);
    if (!asked) return;
    event.preventDefault();
    fill(field, asked);
  });
}
