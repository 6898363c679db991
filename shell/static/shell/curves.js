// Plain curves become readable off: the drawing from the server stays where this does not run, in print, and while a page is live.
const colour = (name) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

let library;
const chart = () => (library ??= import("../vendor/chartjs/chart.umd.min.js").then(() => globalThis.Chart));

const line = (label, across, values, more) => ({
  label,
  data: across.map((x, row) => ({ x, y: values[row] })),
  pointRadius: 0,
  pointHitRadius: 8,
  borderWidth: 2,
  ...more,
});

function sets(curve) {
  const ink = colour("--ink");
  const found = [line(curve.names[0], curve.across, curve.now, { borderColor: ink, backgroundColor: ink })];
  curve.further.forEach((row, place) => found.push(line(curve.names[place + 2], curve.across, row, { borderColor: ink, backgroundColor: ink, borderWidth: 1 })));
  if (curve.before.length) {
    const muted = colour("--muted");
    found.push(line(curve.names[1], curve.across, curve.before, { borderColor: muted, backgroundColor: muted, borderDash: [6, 4], borderWidth: 1.5 }));
  }
  if (curve.low.length) {
    const band = { borderWidth: 0, pointHitRadius: 0, backgroundColor: colour("--faint"), order: 9 };
    found.push(line("from", curve.across, curve.low, { ...band, fill: "+1" }), line("to", curve.across, curve.high, band));
  }
  return found;
}

// Marked places with their words, the zero line and the place in hand; Chart.js has none of its own.
const marked = (curve) => ({
  id: "marked",
  afterDatasetsDraw({ ctx, chartArea: area, scales: { x, y } }) {
    ctx.save();
    ctx.strokeStyle = ctx.fillStyle = colour("--ink");
    ctx.font = `500 14px ${colour("--condensed")}`;
    ctx.textAlign = "center";
    ctx.setLineDash([10, 3, 2, 3]);
    for (const [place, said] of curve.marks) {
      const at = x.getPixelForValue(place);
      ctx.beginPath();
      ctx.moveTo(at, area.top);
      ctx.lineTo(at, area.bottom);
      ctx.stroke();
      ctx.lineWidth = 4;
      ctx.strokeStyle = colour("--sheet");
      ctx.setLineDash([]);
      ctx.strokeText(said, at, area.top - 5);
      ctx.fillText(said, at, area.top - 5);
      ctx.lineWidth = 1;
      ctx.strokeStyle = colour("--ink");
      ctx.setLineDash([10, 3, 2, 3]);
    }
    if (curve.here) {
      ctx.beginPath();
      ctx.arc(x.getPixelForValue(curve.here[0]), y.getPixelForValue(curve.here[1]), 5, 0, 7);
      ctx.fillStyle = colour("--blue");
      ctx.fill();
    }
    ctx.restore();
  },
});

function axis(ends, ticks, title) {
  const words = new Map(ticks);
  return {
    type: "linear",
    min: ends[0],
    max: ends[1],
    afterBuildTicks: (scale) => (scale.ticks = ticks.map(([value]) => ({ value }))),
    ticks: { color: colour("--ink"), autoSkip: false, maxRotation: 0, callback: (value) => words.get(value) },
    grid: { color: colour("--faint") },
    border: { color: colour("--ink") },
    title: { display: Boolean(title), text: title, color: colour("--muted") },
  };
}

const minus = (value) => String(value).replace("-", "−");
const said = {
  title: ([first]) => (first ? minus(first.parsed.x) : ""),
  label: (point) => `${point.dataset.label} ${minus(point.parsed.y)}`,
};

async function draw(figure) {
  const curve = JSON.parse(figure.dataset.curve);
  const [Chart] = await Promise.all([chart(), document.fonts.load(`14px ${colour("--condensed")}`)]);
  const drawing = figure.querySelector("svg");
  if (!drawing?.isConnected) return;
  const canvas = document.createElement("canvas");
  canvas.setAttribute("role", "img");
  canvas.setAttribute("aria-label", drawing.getAttribute("aria-label"));
  const frame = document.createElement("div");
  frame.className = "curve-canvas";
  frame.append(canvas);
  drawing.classList.add("only-print");
  drawing.before(frame);
  Object.values(Chart.instances).filter((one) => !one.canvas.isConnected).forEach((one) => one.destroy());
  Chart.defaults.font.family = colour("--condensed");
  Chart.defaults.font.size = 14;
  new Chart(canvas, {
    type: "line",
    data: { datasets: sets(curve) },
    plugins: [marked(curve)],
    options: {
      animation: false,
      layout: { padding: { top: curve.marks.length ? 18 : 4 } },
      maintainAspectRatio: false,
      interaction: { mode: "index", intersect: false },
      plugins: { legend: { display: false }, tooltip: { displayColors: false, cornerRadius: 0, callbacks: said } },
      scales: { x: axis(curve.ends, curve.ticks[0], figure.dataset.over), y: axis(curve.ends.slice(2), curve.ticks[1]) },
    },
  });
}

function all() {
  for (const figure of document.querySelectorAll("figure[data-curve]:not([data-drawn])")) {
    if (figure.closest("[hx-trigger]")) continue;
    figure.dataset.drawn = "1";
    draw(figure).catch(() => {});
  }
}

all();
document.addEventListener("htmx:afterSwap", all);
