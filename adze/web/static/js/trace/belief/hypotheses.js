// All hypotheses together: their weights with what was read and seen, and where they lie (candidates.py).

import { suspects } from "../constants.js";
import { CUT, RODS } from "../solver/fence.js";

export const { MATERIAL_AFTER } = suspects;

const joined = (rows) => Float64Array.from(rows.flatMap((row) => Array.from(row)));

/** Every hypothesis of a search, in blocks ({hypotheses, doubts, loss, first}): the singles first. */
export class HypothesisSet {
  constructor(fence, blocks, inspections, material) {
    Object.assign(this, { fence, blocks, inspections, material });
    this.noneCell = fence.from_place;
    this.loss = blocks.length === 1 ? blocks[0].loss : joined(blocks.map((block) => block.loss));
    this.offsets = [0];
    for (const block of blocks) this.offsets.push(this.offsets.at(-1) + block.hypotheses.count);
    this.weigh();
    this.lay();
  }

  get count() {
    return this.offsets.at(-1);
  }

  /** The block of a hypothesis and its number there. @returns {[any, number]} */
  where(h) {
    const block = this.offsets.findIndex((end, k) => k > 0 && h < end) - 1;
    return [this.blocks[block], h - this.offsets[block]];
  }

  weigh() {
    const { fence, blocks, inspections } = this;
    const log = blocks.length === 1 ? blocks[0].doubts.logWeight : joined(blocks.map((b) => b.doubts.logWeight));
    const most = log.reduce((x, y) => Math.max(x, y), -Infinity);
    const weight = log.map((x) => Math.exp(x - most));
    const total = weight.reduce((x, y) => x + y, 0);
    const left = Float64Array.from(fence.kind, (_, fault) => inspections.ofFault(fence, fault));
    let [h, kept] = [0, 0];
    for (const { hypotheses, first } of blocks) {
      const beside = first >= 0 ? left[first] : 1;
      for (let own = 0; own < hypotheses.count; own++, h++) {
        weight[h] *= ((own ? left[hypotheses.fault[own]] : 1) * beside) / total;
        kept += weight[h];
      }
    }
    this.leftByLooks = kept;
    this.weight = weight.map((x) => x / kept);
  }

  /** Where a fault lies: two cells, and what share of it lies in the first. */
  cellsOf(fault) {
    const { fence } = this;
    const kind = fence.kind[fault];
    if (kind === RODS) return [this.noneCell + 1, this.noneCell + 1, 0.5];
    if (kind !== CUT) return [fence.place[fault], fence.place[fault], 0.5];
    const piece = fence.piece[fault];
    const [near, far] = [this.inspections.half[2 * piece] + 1e-12, this.inspections.half[2 * piece + 1] + 1e-12];
    return [fence.a[piece], fence.b[piece], near / (near + far)];
  }

  /** Four cells of each hypothesis and the share that lies in each; what is not material counts as none. */
  lay() {
    const { fence, blocks, noneCell } = this;
    const faults = Array.from(fence.kind, (_, fault) => this.cellsOf(fault));
    this.cell = new Int32Array(4 * this.count).fill(noneCell);
    this.share = new Float64Array(4 * this.count);
    let h = 0;
    for (const { hypotheses, first } of blocks) {
      for (let own = 0; own < hypotheses.count; own++, h++) {
        if (h === 0 || !(this.loss[h] > this.material)) {
          this.share[4 * h] = 1;
          continue;
        }
        const pair = first >= 0 ? [hypotheses.fault[own], first] : [hypotheses.fault[own]];
        pair.forEach((fault, k) => {
          const [one, other, share] = faults[fault];
          this.cell[4 * h + 2 * k] = one;
          this.cell[4 * h + 2 * k + 1] = other;
          this.share[4 * h + 2 * k] = share / pair.length;
          this.share[4 * h + 2 * k + 1] = (1 - share) / pair.length;
        });
      }
    }
    this.cells = this.spreadOf(this.weight);
    this.entropyBits = -this.cells.reduce((sum, p) => sum + (p > 0 ? p * Math.log2(p) : 0), 0);
  }

  /** Weights of hypotheses as weights of cells. */
  spreadOf(weight) {
    const found = new Float64Array(this.noneCell + 2);
    for (let h = 0; h < weight.length; h++)
      if (weight[h]) for (let k = 4 * h; k < 4 * h + 4; k++) found[this.cell[k]] += weight[h] * this.share[k];
    return found;
  }

  get pMaterial() {
    return 1 - this.cells[this.noneCell];
  }

  /** Every hypothesis after a reading. */
  after(learner, reading, again) {
    const blocks = this.blocks.map((block) => ({
      ...block,
      doubts: learner.take(block.doubts, block.hypotheses, reading, again),
    }));
    return new HypothesisSet(this.fence, blocks, this.inspections, this.material);
  }

  seen(inspections) {
    return new HypothesisSet(this.fence, this.blocks, inspections, this.material);
  }

  /** The doubts of some hypotheses, in their order. */
  doubtsOf(chosen) {
    const [mean, cov] = [new Float64Array(3 * chosen.length), new Float64Array(6 * chosen.length)];
    chosen.forEach((h, k) => {
      const [{ doubts }, own] = this.where(h);
      mean.set(doubts.mean.subarray(3 * own, 3 * own + 3), 3 * k);
      cov.set(doubts.cov.subarray(6 * own, 6 * own + 6), 6 * k);
    });
    return { mean, cov };
  }

  /** The places where the fault most likely lies. */
  likeliest(count) {
    const places = Array.from({ length: this.noneCell }, (_, p) => p);
    places.sort((p, q) => this.cells[q] - this.cells[p]);
    return places.slice(0, count).filter((p) => this.cells[p] > 1e-4);
  }
}
