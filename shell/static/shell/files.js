// A file that is too large is told before it is sent, so that nothing typed beside it is lost.
document.addEventListener("change", (event) => {
  const input = event.target;
  const most = Number(input.dataset?.mostBytes);
  if (!most || !input.files) return;
  const said = input.parentElement.querySelector(".too-large") ?? document.createElement("p");
  const file = [...input.files].find((one) => one.size > most);
  said.className = "too-large invalid-feedback d-block";
  said.setAttribute("role", "alert");
  said.textContent = file
    ? `The file has ${Math.round(file.size / 1e6)} MB; accepted: ${Math.round(most / 1048576)} MB at most.`
    : "";
  if (file) input.value = "";
  if (!said.isConnected) input.after(said);
});
