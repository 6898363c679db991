// Keys of the workshop: 1-6 stages, comma and full stop corners, arrows nudge, n new reading, ? the key sheet.
import { nudge } from "./nudge.js";
import { stepPose } from "./pose.js";

const typing = (el) => el instanceof HTMLElement && (el.isContentEditable || /^(TEXTAREA|SELECT)$/.test(el.tagName) || (el.tagName === "INPUT" && !["checkbox", "radio", "button", "submit", "number"].includes(el.type)));

function follow(selector) {
  const link = document.querySelector(selector);
  // An SVG link has no click() and keeps its address in baseVal.
  if (link) window.location.assign(link.href.baseVal ?? link.href);
  return Boolean(link);
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
