// Two presses on a drawn track are a gate: their places go into the form, start first, then finish.

const place = (svg, event) => {
  const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
  return [point.x, point.y].map((one) => one.toFixed(1));
};

const mark = (svg, from, to) => {
  const line = document.createElementNS("http://www.w3.org/2000/svg", "path");
  line.setAttribute("class", "candidate");
  line.setAttribute("d", `M${from.join(" ")}L${to.join(" ")}`);
  svg.append(line);
};

const gates = () => {
  for (const svg of document.querySelectorAll("svg[data-gates]")) {
    const fields = ["start", "finish"].map((name) => document.querySelector(`[name="${name}"]`));
    let first = null;
    let next = 0;
    svg.addEventListener("click", (event) => {
      const here = place(svg, event);
      if (first === null) {
        first = here;
        mark(svg, here, here.map((one) => (Number(one) + 3).toFixed(1)));
        return;
      }
      mark(svg, first, here);
      fields[next].value = [...first, ...here].join(" ");
      fields[next].focus();
      next = 1 - next;
      first = null;
    });
  }
};

gates();
