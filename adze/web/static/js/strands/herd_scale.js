// Where each animal of a herd's picture stands: one scale for all, in as many rows as give the largest scale.

import { animalWidth } from "./silhouettes.js";

const HEAD_OVER = 1.22; // of the shoulder: room for the head
const SLOT_PX = 132; // the least that the words under an animal take
const BETWEEN_PX = 26;
const CAPTION_PX = 92; // under the feet of each row
const OVER_PX = 18; // over the heads of each row
const MOST_PX_PER_CM = 4;

/** The rows of a herd at a scale: each animal's place, and how tall the rows are together. */
function shelves(beasts, width, scale) {
  const rows = [];
  let row = null;
  for (const [index, beast] of beasts.entries()) {
    const wide = Math.max(SLOT_PX, animalWidth(beast) * scale + BETWEEN_PX);
    if (!row || row.wide + wide > width) {
      row = { wide: 0, high: 0, slots: [] };
      rows.push(row);
    }
    row.slots.push({ index, x: row.wide, wide });
    row.wide += wide;
    row.high = Math.max(row.high, beast.shoulder_cm * HEAD_OVER * scale);
  }
  const fits = rows.every((r) => r.wide <= width);
  return { rows, fits, high: rows.reduce((sum, r) => sum + r.high + OVER_PX + CAPTION_PX, 0) };
}

/** The scale, pixels for each cm, and for each animal its slot {x, wide, soil}; `high` is what all rows take. */
export function placed(beasts, width, height) {
  let [low, high] = [0.2, MOST_PX_PER_CM];
  for (let i = 0; i < 24; i += 1) {
    const scale = (low + high) / 2;
    const tried = shelves(beasts, width, scale);
    if (tried.fits && tried.high <= height) low = scale;
    else high = scale;
  }
  const { rows, high: tall } = shelves(beasts, width, low);
  let top = 0;
  const places = [];
  for (const row of rows) {
    const soil = top + OVER_PX + row.high;
    const spare = (width - row.wide) / row.slots.length;
    for (const [i, slot] of row.slots.entries()) {
      places[slot.index] = { x: slot.x + spare * (i + 0.5), wide: slot.wide, soil };
    }
    top = soil + CAPTION_PX;
  }
  return { scale: low, places, high: Math.max(tall, top) };
}
