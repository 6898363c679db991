// What is long is folded on a phone and open on the desk; what a person has opened stays open when its part is drawn anew.
const phone = window.matchMedia("(max-width: 800px)");
const opened = new Set();

const fold = (root) => {
  if (!phone.matches) return;
  root.querySelectorAll("details[data-fold=phone]").forEach((one) => {
    if (!opened.has(one.dataset.key)) one.removeAttribute("open");
  });
};

fold(document);
document.addEventListener("htmx:afterSwap", (event) => fold(event.target));
document.addEventListener("click", (event) => {
  const one = event.target.closest?.("details[data-fold=phone] > summary")?.parentElement;
  if (one?.dataset.key) opened[one.open ? "delete" : "add"](one.dataset.key);
});
