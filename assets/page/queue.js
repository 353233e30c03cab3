// Fields are sent one after another; of previews only the last that waits.
import { $, page } from "./dom.js";
import { evidenceOf, inputOf } from "./field.js";

let queue = Promise.resolve();
let waitingPreview = null;

/** `work` once everything that was sent has been answered. */
export const afterAll = (work) => queue.then(work, work);

export function send(field, mode) {
  const input = inputOf(field);
  if (mode === "preview") {
    waitingPreview = field;
  } else if (waitingPreview === field) {
    waitingPreview = null;
  }
  // one that got no answer does not hold up the next
  queue = queue.catch(() => undefined).then(() => {
    if (mode === "preview" && waitingPreview !== field) return undefined;
    if (mode === "preview") waitingPreview = null;
    field.classList.add("busy");
    return htmx.ajax("POST", page.dataset[mode], {
      source: field,
      target: field,
      swap: "none",
      values: {
        path: field.dataset.path,
        text: input.value,
        evidence: evidenceOf(field)?.value ?? "",
        base: $("#base").value,
        stage: page.dataset.stage,
        side: page.dataset.side,
        mode,
      },
    });
  });
}

