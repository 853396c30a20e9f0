// The scale of the side view: how many pixels a cm takes so that strands and animals fit, and where each animal stands.

import { animalWidth } from "./silhouettes.js";

const POST_OVER_CM = 5;
const HEAD_OVER = 1.22; // of the shoulder: room for an animal's head
const LEAST_FREE = 0.35; // of an animal's width, free of the next one
const BETWEEN_CM = 18;
const [HEAD, FOOT] = [64, 44];
const NARROW_PX = 520;

export function scaleOf({ width, height, strands, beasts }) {
  const narrow = width < NARROW_PX;
  const highest = beasts.map((b) => b.shoulder_cm * HEAD_OVER);
  const top = Math.max(80, ...strands.map((s) => s.cm + POST_OVER_CM), ...highest);
  const tall = (height - HEAD - FOOT) / top;
  const soil = height - FOOT;
  const widths = beasts.map((b) => animalWidth(b) + BETWEEN_CM);
  const last = widths.at(-1) ?? 1;
  const others = widths.reduce((a, b) => a + b, 0) - last;
  // On a phone the animals run out of the picture: their heads are what meets the strands.
  const room = narrow ? width * 2.2 : width - 96;
  const fitting = others > 0 ? Math.min(1, Math.max(LEAST_FREE, (room / tall - last) / others)) : 1;
  const overlap = narrow ? LEAST_FREE / 2 : fitting;
  const scale = Math.min(tall, room / (others * overlap + last));
  const postX = [92, width - 136];
  let x = postX[0] + 26;
  const places = widths.map((wide) => {
    const here = x;
    x += wide * scale * overlap;
    return here;
  });
  return { width, height, narrow, top, soil, foot: FOOT, scale, postX, places, y: (cm) => soil - cm * scale };
}
