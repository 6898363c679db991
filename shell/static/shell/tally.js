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

// The map of the wheel well: drag or arrow keys set the two sliders; one request at a time, the last wish wins.
const sliders = () => [document.getElementById("bench-steer"), document.getElementById("bench-travel")];
let dragging = false;
let asking = false;
let wished = false;

async function showPose() {
  wished = true;
  if (asking) return;
  asking = true;
  while (wished) {
    wished = false;
    const form = document.getElementById("bench-form");
    const query = new URLSearchParams(new FormData(form));
    const address = form.getAttribute("action");
    history.replaceState(history.state, "", `${address}?${query}`);
    await window.htmx.ajax("GET", `${address}?${query}&pose=1`, { target: "#bench-sheet", swap: "innerHTML" });
  }
  asking = false;
}

function setPose(steer, travel) {
  const [steerField, travelField] = sliders();
  if (steerField && steer !== null) steerField.value = steer;
  if (travelField && travel !== null) travelField.value = travel;
  showPose();
}

function poseAt(event) {
  const map = document.getElementById("well-map");
  const [steerField, travelField] = sliders();
  if (!map || !travelField) return;
  const box = map.getBoundingClientRect();
  const unit = map.viewBox.baseVal.width / box.width;
  const { x0, x1, y0, y1 } = Object.fromEntries(Object.entries(map.dataset).map(([name, value]) => [name, Number(value)]));
  const x = Math.min(Math.max((event.clientX - box.left) * unit, x0), x1);
  const y = Math.min(Math.max((event.clientY - box.top) * unit, y0), y1);
  if (steerField) map.querySelector("[data-dot]")?.setAttribute("transform", `translate(${x} ${y})`);
  const between = (field, share) => Number(field.min) + share * (Number(field.max) - Number(field.min));
  setPose(steerField && between(steerField, (x - x0) / (x1 - x0)), between(travelField, (y1 - y) / (y1 - y0)));
}

document.addEventListener("pointerdown", (event) => {
  if (!event.target.closest?.("[data-map]") || event.button !== 0) return;
  dragging = true;
  event.target.closest("[data-map]").focus({ preventScroll: true });
  event.preventDefault();
  poseAt(event);
});
document.addEventListener("pointermove", (event) => dragging && poseAt(event));
for (const end of ["pointerup", "pointercancel"]) document.addEventListener(end, () => { dragging = false; });
document.addEventListener("input", (event) => event.target.matches?.("#bench-steer, #bench-travel") && showPose());
document.addEventListener("click", (event) => {
  const to = event.target.closest?.("[data-pose-steer]");
  if (to) setPose(to.dataset.poseSteer, to.dataset.poseTravel);
});

function stepPose(event) {
  const [steerField, travelField] = sliders();
  const field = event.key === "ArrowLeft" || event.key === "ArrowRight" ? steerField : travelField;
  if (!field) return;
  if (event.key === "ArrowRight" || event.key === "ArrowUp") field.stepUp(event.shiftKey ? 5 : 1);
  else field.stepDown(event.shiftKey ? 5 : 1);
  event.preventDefault();
  showPose();
}

document.addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.key.startsWith("Arrow") && document.activeElement?.matches("[data-map]")) return stepPose(event);
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
