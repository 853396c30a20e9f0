// Where a search stands, as the server drew it for the ground and the strip; null where none goes on.

export function toldOf() {
  const holder = document.querySelector("[data-trace-drawn]");
  return holder ? JSON.parse(holder.dataset.traceDrawn) : null;
}
