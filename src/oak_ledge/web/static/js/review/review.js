// A review in the client's own browser, without a network: answers are counted, and saved as a file.

const about = JSON.parse(document.getElementById("about").textContent);

function answers() {
  return [...document.querySelectorAll("[data-piece]")].map((piece) => ({
    piece: Number(piece.dataset.piece),
    step: Number(piece.dataset.step),
    answer: piece.querySelector("input:checked")?.value ?? null,
    word: piece.querySelector(".word input").value.trim(),
  }));
}

function count() {
  const all = answers();
  const said = all.filter((one) => one.answer || one.word).length;
  document.getElementById("count").textContent = `${said} of ${all.length} answered`;
}

document.addEventListener("input", count);
document.getElementById("save").addEventListener("click", () => {
  const text = JSON.stringify({ review_version: 1, ...about, answers: answers() }, null, 2);
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([text], { type: "application/json" }));
  link.download = `${about.job}-answers.json`;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 1000);
});
count();
