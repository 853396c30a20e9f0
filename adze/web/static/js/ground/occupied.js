// Which parts of a picture are taken: a bitmap of cells, so that a test takes as long however much lies there.
// Method: occupancy bitmaps for label placement (Kittivorawong, Moritz, Wongsuphasawat, Heer 2020).

const CELL_PX = 2;

export class Occupied {
  constructor(wide, high) {
    this.wide = wide;
    this.high = high;
    this.across = Math.ceil(wide / CELL_PX);
    this.down = Math.ceil(high / CELL_PX);
    this.cells = new Uint8Array(this.across * this.down);
  }

  /** The cells of a box [left, top, right, bottom], to the nearest cell, kept inside the picture. */
  span([left, top, right, bottom]) {
    return [
      Math.max(0, Math.round(left / CELL_PX)),
      Math.max(0, Math.round(top / CELL_PX)),
      Math.min(this.across, Math.round(right / CELL_PX)),
      Math.min(this.down, Math.round(bottom / CELL_PX)),
    ];
  }

  take(box) {
    const [left, top, right, bottom] = this.span(box);
    if (right <= left) return;
    for (let y = top; y < bottom; y += 1) this.cells.fill(1, y * this.across + left, y * this.across + right);
  }

  /** Take a straight stretch, `half` pixels to either side. */
  takeLine(from, to, half) {
    const steps = Math.max(1, Math.ceil(Math.hypot(to.x - from.x, to.y - from.y) / Math.max(CELL_PX, half)));
    for (let i = 0; i <= steps; i += 1) {
      const x = from.x + ((to.x - from.x) * i) / steps;
      const y = from.y + ((to.y - from.y) * i) / steps;
      this.take([x - half, y - half, x + half, y + half]);
    }
  }

  isFree(box) {
    const [left, top, right, bottom] = this.span(box);
    for (let y = top; y < bottom; y += 1) {
      for (let at = y * this.across + left; at < y * this.across + right; at += 1) if (this.cells[at]) return false;
    }
    return true;
  }
}
