// A linked gauge: asked for one reading, and waited for.
import { $ } from "./dom.js";

const FIRST_MS = 15; // between two looks at what it sent: soon at first, then less often
const LONGEST_MS = 350;
const PATIENCE_MS = 8000;

const no = { trouble: "The program does not answer." };
export const pause = (ms) => new Promise((done) => setTimeout(done, ms));

/** What a gauge sent after a line's number: its reading, why there is none, or only the number. What it was asked for at
 * another place is no reading of this one. */
export async function heard(root, name, after, place = "", key = "") {
  const query = new URLSearchParams({ name, after, place, key });
  const answer = await fetch(`${root.dataset.heard}?${query}`).catch(() => null);
  return answer?.ok ? answer.json() : no;
}

/** Ask a gauge for one reading: what it sends, or why it sends none. */
export async function askOnce(root, name, place, key) {
  const body = new FormData();
  const token = $("input[name='csrf_token']").value;
  for (const [field, value] of Object.entries({ csrf_token: token, name, place, key })) body.set(field, value);
  const answer = await fetch(root.dataset.ask, { method: "POST", body, headers: { "X-CSRFToken": token, "X-Head": document.body.dataset.head ?? "" } }).catch(() => null);
  let told = answer?.ok ? await answer.json() : no;
  const end = performance.now() + PATIENCE_MS;
  for (let wait = FIRST_MS; !told.text && !told.trouble; wait = Math.min(wait * 2, LONGEST_MS)) {
    if (performance.now() > end) return { trouble: `${name} was asked and sends nothing.` };
    await pause(wait);
    told = { after: told.after, ...(await heard(root, name, told.after, place, key)) };
  }
  return told;
}
