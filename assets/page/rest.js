// What of a page comes after it: every valve of a head that is met for the first time.
const of = (event) => {
  const from = event.detail.ctx.sourceElement;
  return from?.matches?.("[data-rest]") ? from : null;
};

function failed(rest) {
  rest.innerHTML = '<p class="wrong" role="alert">This could not be worked, or the program does not answer.</p><button type="button" class="button quiet">Try again</button>';
  rest.querySelector("button").addEventListener("click", () => location.reload());
}

export function bindRest() {
  document.addEventListener("htmx:before:swap", (event) => {
    const rest = of(event);
    if (!rest || event.detail.ctx.response?.status < 400) return;
    event.preventDefault();
    failed(rest);
  });
  document.addEventListener("htmx:after:swap", (event) => {
    if (!of(event) || !location.hash) return;
    document.getElementById(decodeURIComponent(location.hash.slice(1)))?.scrollIntoView();
  });
  document.addEventListener("htmx:finally:request", (event) => {
    const rest = of(event);
    if (rest && !event.detail.ctx.response) failed(rest);
  });
}
