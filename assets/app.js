import { bindDrop } from "./page/drop.js";
import { page } from "./page/dom.js";
import { bindFields } from "./page/fields.js";
import { bindFrame } from "./page/frame.js";
import { bindKeys } from "./page/keys.js";
import { bindDrawing } from "./page/section.js";

bindFrame();
bindKeys();
bindDrop();
if (page) {
  bindFields();
  bindDrawing();
}
document.documentElement.dataset.ready = "true";
