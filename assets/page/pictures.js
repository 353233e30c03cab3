// Photographs: a press on one draws a ring on its copy; files are dropped anywhere on the form; too large is told at once.
import { $ } from "./dom.js";

const SIZE = 6;

function ring(svg, field, event) {
  const box = svg.getBoundingClientRect();
  const across = ((event.clientX - box.left) / box.width) * 100;
  const down = ((event.clientY - box.top) / box.width) * 100;
  const line = `${across.toFixed(0)} ${down.toFixed(0)} ${SIZE}`;
  field.value = `${field.value.trimEnd()}${field.value.trim() ? "\n" : ""}${line} `;
  const circle = document.createElementNS("http://www.w3.org/2000/svg", "circle");
  for (const [name, value] of Object.entries({ cx: across, cy: down, r: SIZE })) circle.setAttribute(name, value);
  svg.append(circle);
  field.focus();
  field.setSelectionRange(field.value.length, field.value.length);
}

function tooLarge(form) {
  const most = Number(form.dataset.pictures) * 1e6;
  const large = [...$("input[type='file']", form).files].find((file) => file.size > most);
  $("input[type='file']", form).setCustomValidity(large ? `${large.name} is larger than ${form.dataset.pictures} MB.` : "");
}

export function bindPictures() {
  const svg = $("[data-rings]");
  if (svg) svg.addEventListener("click", (event) => ring(svg, $("#p-rings"), event));
  const form = $("[data-pictures]");
  if (!form) return;
  form.addEventListener("change", () => tooLarge(form));
  form.addEventListener("dragover", (event) => event.preventDefault());
  form.addEventListener("drop", (event) => {
    if (!event.dataTransfer?.files.length) return;
    event.preventDefault();
    $("input[type='file']", form).files = event.dataTransfer.files;
    tooLarge(form);
  });
}
