// The field in hand: arrow keys nudge it by its step, with Shift by five.
let inHand = "";
const control = () => document.getElementById(inHand) || document.querySelector("[data-nudge]");

function takeInHand(el) {
  document.querySelectorAll("[data-nudge].in-hand").forEach((other) => other.classList.remove("in-hand"));
  el.classList.add("in-hand");
  inHand = el.id;
}

export function nudge(event) {
  const focused = document.activeElement;
  const field = focused?.matches?.("[data-nudge]") ? focused : control();
  if (!field) return;
  const up = event.key === "ArrowUp" || event.key === "ArrowRight";
  takeInHand(field);
  if (field.tagName === "SELECT") {
    const next = field.selectedIndex + (up ? 1 : -1);
    if (next < 0 || next >= field.options.length) return;
    field.selectedIndex = next;
  } else if (up) field.stepUp(event.shiftKey ? 5 : 1);
  else field.stepDown(event.shiftKey ? 5 : 1);
  event.preventDefault();
  field.dispatchEvent(new Event("change", { bubbles: true }));
}

document.addEventListener("focusin", (event) => {
  if (event.target.matches?.("[data-nudge]")) takeInHand(event.target);
});

// The field in hand stays in hand when the drawing is swapped: once for the eye, once after htmx has settled the classes.
for (const moment of ["htmx:afterSwap", "htmx:afterSettle"]) {
  document.addEventListener(moment, () => inHand && document.getElementById(inHand)?.classList.add("in-hand"));
}
