// Points of a card on the underside: dragged, they write their line of the form; what comes of it is drawn by the server.
const form = document.getElementById("panel-form");

const lineOf = (text, wanted) => {
  const lines = text.value.split("\n");
  let seen = -1;
  return { lines, at: lines.findIndex((line) => line.trim() && ++seen === wanted) };
};

const place = (svg, event) => {
  const matrix = svg.getScreenCTM().inverse();
  const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix);
  const { scale, left, free, mid } = svg.dataset;
  return { along: Number(left) + (point.x - Number(free)) / Number(scale), half: Math.abs(point.y - Number(mid)) / Number(scale), point };
};

document.addEventListener("pointerdown", (event) => {
  const handle = event.target.closest?.(".underside .handle");
  const text = form?.elements.stations;
  if (!handle || !text) return;
  event.preventDefault();
  const svg = handle.ownerSVGElement;
  const move = (moved) => {
    const { point } = place(svg, moved);
    handle.setAttribute("cx", point.x);
    handle.setAttribute("cy", point.y);
  };
  const stop = (ended) => {
    window.removeEventListener("pointermove", move);
    const { along, half } = place(svg, ended);
    const { lines, at } = lineOf(text, Number(handle.dataset.line));
    if (at < 0) return;
    const height = lines[at].trim().split(/\s+/)[2];
    lines[at] = [Math.round(along), Math.round(half), ...(height === undefined ? [] : [height])].join(" ");
    text.value = lines.join("\n");
    text.dispatchEvent(new Event("input", { bubbles: true }));
  };
  window.addEventListener("pointermove", move);
  window.addEventListener("pointerup", stop, { once: true });
});
