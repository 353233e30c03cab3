import { bindBench } from "./page/bench.js";
import { bindAssembly } from "./page/assembly.js";
import { bindPictures } from "./page/pictures.js";
import { bindMockUp } from "./page/mockup.js";
import { bindTester } from "./page/tester.js";
import { bindDrop } from "./page/drop.js";
import { page } from "./page/dom.js";
import { bindFields } from "./page/fields.js";
import { bindFocus } from "./page/focus.js";
import { bindFrame } from "./page/frame.js";
import { bindKeys } from "./page/keys.js";
import { bindDrawing } from "./page/section.js";
import { bindRest } from "./page/rest.js";
import { bindUnsaved } from "./page/unsaved.js";
import { watch } from "./page/watch.js";

bindFrame();
bindFocus();
bindKeys();
bindDrop();
bindBench();
bindMockUp();
bindAssembly();
bindPictures();
bindTester();
bindRest();
watch();
if (page) {
  bindFields();
  bindUnsaved();
  bindDrawing();
}
document.documentElement.dataset.ready = "true";
