// A photographed card: a click adds a point, dragging moves one; the text field holds them all.
const card = document.querySelector("[data-card]");
const cardField = document.querySelector("[data-points]");
const cardPoints = () => cardField.value.split("\n").map((line) => line.trim().split(/[\s,;]+/).map(Number)).filter((p) => p.length === 2 && p.every(Number.isFinite));
const CARD_NEXT = card?.dataset.ask.split("|");
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

// Through the drawing's own matrix: a wide or high picture does not fill its box.
function onCard(event) {
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(card.getScreenCTM().inverse());
  const inside = (value, most) => Math.round(Math.min(Math.max(value, 0), most) * 10) / 10;
  return [inside(at.x, card.viewBox.baseVal.width), inside(at.y, card.viewBox.baseVal.height)];
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
