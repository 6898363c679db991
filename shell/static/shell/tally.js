// One module a concern; this one only brings them together.
import "./keys.js";
import "./nudge.js";
import "./pose.js";
import "./card.js";
import "./offline.js";
import "./fold.js";
import "./files.js";
import "./curves.js";

document.addEventListener("click", (event) => {
  if (event.target.closest?.("[data-print]")) window.print();
});
