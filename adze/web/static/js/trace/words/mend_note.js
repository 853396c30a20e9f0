// How the cause that is chosen is mended: power off or not, and what is carried; on the page and on a phone.

function say(select) {
  const note = document.querySelector(`[data-mend-of="${select.id}"]`);
  if (note) note.textContent = select.selectedOptions[0].dataset.mend;
}

document.addEventListener("change", ({ target }) => {
  if (target.matches?.('select[data-step="cause"]')) say(target);
});
