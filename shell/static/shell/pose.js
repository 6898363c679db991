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

export function stepPose(event) {
  const [steerField, travelField] = sliders();
  const field = event.key === "ArrowLeft" || event.key === "ArrowRight" ? steerField : travelField;
  if (!field) return;
  if (event.key === "ArrowRight" || event.key === "ArrowUp") field.stepUp(event.shiftKey ? 5 : 1);
  else field.stepDown(event.shiftKey ? 5 : 1);
  event.preventDefault();
  showPose();
}
