// A file dropped on the table of a lift curve.
import { $ } from "./dom.js";

export function bindDrop() {
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
