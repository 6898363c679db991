// Keys of the workshop: 1-6 stages, comma and full stop corners, arrows nudge, n new reading, ? the key sheet.
const typing = (el) => el instanceof HTMLElement && (el.isContentEditable || /^(TEXTAREA|SELECT)$/.test(el.tagName) || (el.tagName === "INPUT" && !["checkbox", "radio", "button", "submit", "number"].includes(el.type)));

let inHand = "";
const control = () => document.getElementById(inHand) || document.querySelector("[data-nudge]");

function takeInHand(el) {
  document.querySelectorAll("[data-nudge].in-hand").forEach((other) => other.classList.remove("in-hand"));
  el.classList.add("in-hand");
  inHand = el.id;
}

function nudge(event) {
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

function follow(selector) {
  const link = document.querySelector(selector);
  // An SVG link has no click() and keeps its address in baseVal.
  if (link) window.location.assign(link.href.baseVal ?? link.href);
  return Boolean(link);
}

document.addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  const numeric = document.activeElement?.type === "number" && document.activeElement.matches("input");
  if (event.key.startsWith("Arrow")) {
    const inText = typing(document.activeElement) && !document.activeElement.matches("[data-nudge]");
    if (!inText && !(numeric && !document.activeElement.matches("[data-nudge]")) && !document.querySelector(":popover-open")) nudge(event);
    return;
  }
  if (typing(document.activeElement) || numeric) return;
  if (/^[1-6]$/.test(event.key) && follow(`[data-stage="${event.key}"]`)) event.preventDefault();
  else if (event.key === "," && follow("[data-corner=previous]")) event.preventDefault();
  else if (event.key === "." && follow("[data-corner=next]")) event.preventDefault();
  else if (event.key === "n" && follow("[data-new-reading]")) event.preventDefault();
  else if (event.key === "?") document.querySelector("#key-sheet")?.togglePopover();
});

document.addEventListener("focusin", (event) => {
  if (event.target.matches?.("[data-nudge]")) takeInHand(event.target);
});

document.addEventListener("click", (event) => {
  if (event.target.closest?.("[data-print]")) window.print();
});

// The field in hand stays in hand when the drawing is swapped: once for the eye, once after htmx has settled the classes.
for (const moment of ["htmx:afterSwap", "htmx:afterSettle"]) {
  document.addEventListener(moment, () => inHand && document.getElementById(inHand)?.classList.add("in-hand"));
}
