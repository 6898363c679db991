// Points of a card on the underside and in the side view: dragged, they write their line of the form; what comes of it is drawn by the server.
const form = document.getElementById("panel-form");

const lineOf = (text, wanted) => {
  const lines = text.value.split("\n");
  let seen = -1;
  return { lines, at: lines.findIndex((line) => line.trim() && ++seen === wanted) };
};

// The drawing is in millimetres; the field in the unit that it names.
const UNIT_MM = { in: 25.4, mm: 1 };
const typedIn = (mm) => {
  const unit = UNIT_MM[form.dataset.unit] ?? 1;
  return unit === 1 ? Math.round(mm) : Math.round((mm / unit) * 100) / 100;
};

const pointOf = (svg, event) => new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());

const place = (svg, event) => {
  const point = pointOf(svg, event);
  const { scale, left, free, mid } = svg.dataset;
  return { along: Number(left) + (point.x - Number(free)) / Number(scale), half: Math.abs(point.y - Number(mid)) / Number(scale) };
};

const dragged = (handle, moved, written) => {
  const svg = handle.ownerSVGElement;
  const stop = (ended) => {
    window.removeEventListener("pointermove", move);
    const text = form.elements.stations;
    const { lines, at } = lineOf(text, Number(handle.dataset.line));
    if (at < 0) return;
    lines[at] = written(svg, ended, lines[at].trim().split(/\s+/)).join(" ");
    text.value = lines.join("\n");
    text.dispatchEvent(new Event("input", { bubbles: true }));
  };
  const move = (event) => moved(pointOf(svg, event));
  window.addEventListener("pointermove", move);
  window.addEventListener("pointerup", stop, { once: true });
};

const below = (handle) =>
  dragged(
    handle,
    (point) => {
      handle.setAttribute("cx", point.x);
      handle.setAttribute("cy", point.y);
    },
    (svg, event, words) => {
      const { along, half } = place(svg, event);
      return [typedIn(along), typedIn(half), ...words.slice(2)];
    },
  );

// A height is written as the car stood when the card was read: what the build lowered it by since is put back.
const beside = (handle) =>
  dragged(
    handle,
    (point) => handle.setAttribute("cy", point.y),
    (svg, event, words) => {
      const { scale, ground } = svg.dataset;
      const up = (Number(ground) - pointOf(svg, event).y) / Number(scale) + Number(handle.dataset.lowered);
      return [...words.slice(0, 2), Math.max(0, typedIn(up))];
    },
  );

document.addEventListener("pointerdown", (event) => {
  const handle = event.target.closest?.(".underside .handle, .side .handle");
  if (!handle || !form?.elements.stations) return;
  event.preventDefault();
  (handle.closest(".side") ? beside : below)(handle);
});
