// Another hand on the same head: what it read is shown on the bench within a second, without touching what is being
// typed; any other page says that it is no longer as it was drawn.
const EVERY_MS = 700;
const KEPT = [".head-wide", ".bench-progress", ".bench-steps", ".bench-below", "#margins"];

export function watch() {
  const page = document.body;
  if (!page.dataset.watch) return;
  document.querySelector("#another-hand button")?.addEventListener("click", () => location.reload());
  let busy = false;
  let own = 0;
  let mine = false;
  document.addEventListener("htmx:before:request", (event) => {
    if (changes(event)) own += 1;
  });
  document.addEventListener("htmx:finally:request", (event) => {
    if (!changes(event)) return;
    own = Math.max(own - 1, 0);
    // what this page changed itself is on it already
    mine = true;
  });
  setInterval(async () => {
    if (busy || own || document.hidden) return;
    busy = true;
    const since = mine;
    try {
      const told = await fetch(page.dataset.watch, { headers: { Accept: "application/json" } });
      if (told.status === 401) location.reload();
      if (told.ok) {
        const now = (await told.json()).mark;
        const moved = now !== page.dataset.mark;
        // one that was sent meanwhile may be in it or not: the next look will tell
        if (own || since !== mine) return;
        mine = false;
        page.dataset.mark = now;
        if (moved && (document.getElementById("bench") || !since)) await shown();
      }
    } catch {
      // the server is away for a moment: the next time will tell
    } finally {
      busy = false;
    }
  }, EVERY_MS);
}

function changes(event) {
  return (event.detail.ctx.request?.method ?? "GET").toUpperCase() !== "GET";
}

async function shown() {
  const bench = document.getElementById("bench");
  if (!bench) {
    document.getElementById("another-hand")?.removeAttribute("hidden");
    return;
  }
  const answer = await fetch(location.href);
  if (!answer.ok) return;
  const fresh = new DOMParser().parseFromString(await answer.text(), "text/html");
  for (const part of KEPT) {
    const [old, made] = [document.querySelector(part), fresh.querySelector(part)];
    if (old && made && !old.contains(document.activeElement) && old.innerHTML !== made.innerHTML) {
      old.replaceWith(document.importNode(made, true));
    }
  }
  bench.dataset.taken = fresh.getElementById("bench")?.dataset.taken ?? bench.dataset.taken;
}
