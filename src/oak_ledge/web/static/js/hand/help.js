// `?` on a page that has no keys of its own leads to the guide, at what it says of that page.

window.addEventListener("keydown", (event) => {
  const { guide } = document.body.dataset;
  if (event.key !== "?" || event.defaultPrevented || localStorage.getItem("oak-ledge-letters") === "off") return;
  if (document.body.classList.contains("page-bench") || event.target.matches("input, select, textarea")) return;
  if (!document.querySelector("dialog[open]")) window.location.assign(guide);
});
