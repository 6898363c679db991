// The ruler of days: a bar is dragged by whole days, or put off by a number; the server answers with the plan as it
// would be. What is tried stands in the address; nothing is kept until somebody presses Keep.
let held = null;

const perDay = (box, ruler) => Number(ruler.dataset.day) * (box.width / ruler.querySelector("svg").viewBox.baseVal.width);

function tryIt(text) {
  const ruler = document.getElementById("ruler");
  const query = new URLSearchParams({ try: text });
  history.replaceState(history.state, "", `${location.pathname}?${query}`);
  window.htmx.ajax("GET", `${ruler.dataset.ruler}?${query}`, { target: "#ruler", swap: "outerHTML" });
}

document.addEventListener("pointerdown", (event) => {
  const bar = event.target.closest?.(".day-bar");
  const ruler = document.getElementById("ruler");
  if (!bar || !ruler?.dataset.day || event.button) return;
  held = { bar, from: event.clientX, step: perDay(ruler.querySelector("svg").getBoundingClientRect(), ruler), days: 0 };
  event.preventDefault();
});

document.addEventListener("pointermove", (event) => {
  if (!held || !("drag" in held.bar.dataset)) return;
  held.days = Math.round((event.clientX - held.from) / held.step);
  const unit = Number(document.getElementById("ruler").dataset.day);
  for (const part of held.bar.querySelectorAll("path, rect:not(.day-row)")) part.setAttribute("transform", `translate(${held.days * unit} 0)`);
});

// A bar that is only touched opens its row of the table: what it waits for, what waits for it.
function showRow(id) {
  const row = document.querySelector(`[data-row="${CSS.escape(id)}"]`);
  if (!row) return;
  row.closest("details").open = true;
  for (const other of document.querySelectorAll("tr.here[data-row]")) other.classList.remove("here");
  row.classList.add("here");
  row.scrollIntoView({ block: "nearest" });
}

document.addEventListener("pointerup", () => {
  if (held && !held.days) showRow(held.bar.dataset.id);
  if (held && held.days) tryIt(`move:${held.bar.dataset.id}:${held.days}`);
  held = null;
});

// A finger that scrolls the page or the drawing drags no bar.
document.addEventListener("pointercancel", () => {
  for (const part of held?.bar.querySelectorAll("[transform]") ?? []) part.removeAttribute("transform");
  held = null;
});

document.addEventListener("change", (event) => {
  const form = event.target.closest?.("[data-move]");
  if (!form || !event.target.matches(".put-off") || !event.target.value) return;
  tryIt(`move:${form.dataset.move}:${Number(event.target.value)}`);
});
