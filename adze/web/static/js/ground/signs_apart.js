// Where signs stand so that none covers another: at their places, or beside them with a thread to the place.

const STEP_PX = 7;
const REACH_PX = 49; // further from its place a sign is not understood as its own
const TURNS = 16;
const FEW = 150; // of more signs than these only the signs are kept apart, not signs and lines
const LINE_PX = 6; // half of a drawn line and a little more

/** Half a sign's box grown by half another's: too near in both directions is one over the other. */
const covers = (a, b, x, y) => Math.abs(a.x - x) < a.half + b.half && Math.abs(a.y - y) < a.half + b.half;

function awayFromLine([ax, ay, bx, by], x, y) {
  const [dx, dy] = [bx - ax, by - ay];
  const share = Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)));
  return Math.hypot(ax + share * dx - x, ay + share * dy - y);
}

/**
 * Places of signs [{key, x, y, half, fixed}] in px, the most important first; `lines` are stretches [ax, ay, bx, by]
 * that a moved sign keeps off if it can. A map from the keys of moved signs to [x, y]; who finds no room stays.
 */
export function standApart(signs, lines) {
  const standing = [];
  const moved = new Map();
  const isFree = (sign, x, y) => standing.every((other) => !covers(other, sign, x, y));
  for (const sign of signs) {
    let [x, y] = [sign.x, sign.y];
    if (!sign.fixed && !isFree(sign, x, y)) {
      const near =
        signs.length > FEW ? [] : lines.filter((s) => awayFromLine(s, x, y) < REACH_PX + sign.half + LINE_PX);
      const found = roomFor(sign, (u, v) => isFree(sign, u, v), near);
      if (found) {
        [x, y] = found;
        moved.set(sign.key, found);
      }
    }
    standing.push({ x, y, half: sign.half });
  }
  return moved;
}

/** The nearest free place beside its own: off lines if there is one. */
function roomFor(sign, isFree, lines) {
  let onLine = null;
  for (let far = 2 * STEP_PX; far <= REACH_PX; far += STEP_PX) {
    for (let turn = 0; turn < TURNS; turn += 1) {
      const angle = (2 * Math.PI * turn) / TURNS;
      const [x, y] = [sign.x + far * Math.cos(angle), sign.y + far * Math.sin(angle)];
      if (!isFree(x, y)) continue;
      if (lines.every((stretch) => awayFromLine(stretch, x, y) >= sign.half + LINE_PX)) return [x, y];
      onLine ??= [x, y];
    }
  }
  return onLine;
}
