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

// The map of the wheel well: drag or arrow keys set the two sliders, which stay where they are while the
// drawings are swapped; one request at a time, the last wish wins.
const sliders = () => [document.getElementById("bench-steer"), document.getElementById("bench-travel")];
let dragging = false;
let asking = false;
let wished = false;

async function showPose() {
  placeDot();
  wished = true;
  if (asking) return;
  asking = true;
  while (wished) {
    wished = false;
    const form = document.getElementById("bench-form");
    const query = new URLSearchParams(new FormData(form));
    const address = form.getAttribute("action");
    history.replaceState(history.state, "", `${address}?${query}`);
    await window.htmx.ajax("GET", `${address}?${query}&pose=1`, { target: "#bench-sheet", swap: "none" });
    tellPose();
  }
  asking = false;
}

// Share of the way along a slider, 0 to 1; an axle that does not steer has none.
const share = (field) => (field ? (field.value - field.min) / (field.max - field.min || 1) : 0.5);

function placeDot() {
  const map = document.getElementById("well-map");
  if (!map) return;
  const [steerField, travelField] = sliders();
  const { x0, x1, y0, y1 } = Object.fromEntries(Object.entries(map.dataset).map(([name, value]) => [name, Number(value)]));
  map.querySelector("[data-dot]")?.setAttribute("transform", `translate(${x0 + share(steerField) * (x1 - x0)} ${y1 - share(travelField) * (y1 - y0)})`);
}

function tellPose() {
  const pose = document.querySelector("[data-pose]")?.textContent;
  for (const field of sliders()) field?.setAttribute("aria-valuetext", pose);
  document.getElementById("well-map")?.setAttribute("aria-label", `Map of the tightest gap over steer and travel; now ${pose}. Drag, or use the arrow keys.`);
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
  const between = (field, part) => Number(field.min) + part * (Number(field.max) - Number(field.min));
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

// A photographed card: a click adds a point, dragging moves one; the text field holds them all.
const card = document.querySelector("[data-card]");
const cardField = document.querySelector("[data-points]");
const cardPoints = () => cardField.value.split("\n").map((line) => line.trim().split(/[\s,;]+/).map(Number)).filter((p) => p.length === 2 && p.every(Number.isFinite));
const CARD_NEXT = ["Click the inner end of the control bar.", "Click its outer end.", "Click along the edge, from the inner rim edge over the tread to the outer one."];
let moving = -1;

function drawCard(points) {
  const size = card.viewBox.baseVal.width / 130;
  const line = (some) => (some.length > 1 ? `<path d="M${some.map((p) => p.join(" ")).join("L")}"/>` : "");
  const dots = points.map(([x, y], k) => `<circle class="${k < 2 ? "bar-end" : ""}" data-point="${k}" cx="${x}" cy="${y}" r="${size}"/>`);
  card.querySelector("[data-marks]").innerHTML = line(points.slice(0, 2)) + line(points.slice(2)) + dots.join("");
  document.querySelector("[data-next]").textContent = CARD_NEXT[Math.min(points.length, 2)] + (points.length > 2 ? ` ${points.length - 2} so far.` : "");
}

function setCard(points) {
  cardField.value = points.map((p) => p.join(" ")).join("\n");
  drawCard(points);
}

function onCard(event) {
  const box = card.getBoundingClientRect();
  const unit = card.viewBox.baseVal.width / box.width;
  const inside = (value, most) => Math.round(Math.min(Math.max(value * unit, 0), most) * 10) / 10;
  return [inside(event.clientX - box.left, card.viewBox.baseVal.width), inside(event.clientY - box.top, card.viewBox.baseVal.height)];
}

if (card && cardField) {
  drawCard(cardPoints());
  cardField.addEventListener("input", () => drawCard(cardPoints()));
  card.addEventListener("pointerdown", (event) => {
    if (event.button !== 0) return;
    event.preventDefault();
    card.focus({ preventScroll: true });
    const points = cardPoints();
    moving = event.target.dataset.point === undefined ? points.push(onCard(event)) - 1 : Number(event.target.dataset.point);
    setCard(points);
  });
  document.addEventListener("pointermove", (event) => {
    if (moving < 0) return;
    const points = cardPoints();
    points[moving] = onCard(event);
    setCard(points);
  });
  for (const end of ["pointerup", "pointercancel"]) document.addEventListener(end, () => { moving = -1; });
  card.addEventListener("keydown", (event) => event.key === "Backspace" && setCard(cardPoints().slice(0, -1)));
  document.querySelector("[data-card-back]")?.addEventListener("click", () => setCard(cardPoints().slice(0, -1)));
}

// The field in hand stays in hand when the drawing is swapped: once for the eye, once after htmx has settled the classes.
for (const moment of ["htmx:afterSwap", "htmx:afterSettle"]) {
  document.addEventListener(moment, () => inHand && document.getElementById(inHand)?.classList.add("in-hand"));
}
