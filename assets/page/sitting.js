// Measured has an instrument and a hand: asked once a sitting, before the field is sent.
import { $ } from "./dom.js";
import { evidenceOf, inputOf } from "./field.js";

/** Whether an instrument is named in this sitting for the sort of figure that a field holds. */
export const seated = (field) => (document.body.dataset.sitting ?? "").split(" ").includes(field.dataset.measure ?? "");
export const isAsking = () => asking !== null;

let asking = null;

export function askSitting(field) {
  asking = field;
  $("#sitting-wrong").textContent = "";
  $("#sitting input[name='measure']").value = field.dataset.measure ?? "";
  $("#sitting-instrument").value = "";
  $("#sitting").showModal();
  $("#sitting-instrument").focus();
}

/** `accept` sends the field that asked. */
export function bindSitting(accept) {
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
    document.body.dataset.sitting += ` ${form.elements.measure.value}`;
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

