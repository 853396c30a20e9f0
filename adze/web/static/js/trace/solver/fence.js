// The solved fence on the device: every fault is a change of low rank on it (adze/core/trace/pulse_base.py).
//
// Rows over frequency are real and imaginary parts in turn; a matrix of rows lies row after row.

import { pulseBase } from "../constants.js";
import { shapesOf, solved, substituted } from "./network.js";
import { addProduct, product } from "./rows.js";
import { stopOf } from "./stop.js";

export const { LS, LE, CUT, RODS, GRASSIER, PARTED_OHM } = pulseBase;

/** The cuts that stand in the very piece whose amps are read. */
const cutsIn = ({ direct, piece }, { changes }) => (direct ? changes.filter((own) => own.piece === piece) : []);

export class Fence {
  /** Of a packed search, with what finds peaks of its spectra; rods and growth so many times what was packed. */
  constructor(kit, peaks, moved = { rods: 1, grass: 1 }) {
    Object.assign(this, kit, { kit, peaks, moved });
    this.size = kit.follow.length;
    this.hasEarth = kit.kind.includes(LE);
    this.rodsFault = kit.kind.indexOf(RODS);
    Object.assign(this, { known: new Map(), faultPorts: [], kit: { ...kit, size: this.size } });
    this.packed = kit.packed ?? shapesOf(this.kit, 1);
    Object.assign(this, solved(this.kit, this.packed, { ...moved, grassier: GRASSIER }));
    this.healthy = this.unfaulted();
    Object.assign(this, stopOf(this));
  }

  /** The same fence with rods and growth so many times what they are. */
  with({ rods, grass }) {
    const moved = { rods: this.moved.rods * rods, grass: this.moved.grass * grass };
    return new Fence({ ...this.kit, packed: this.packed }, this.peaks, moved);
  }

  /** The fence as it is when well, and what each fault's port sees there. */
  unfaulted() {
    const { size, volts, moved } = this;
    const sees = new Float64Array(this.kind.length * size);
    for (let f = 0; f < this.kind.length; f++) {
      const port = this.portOf(f);
      const own = this.seen(this.column(port, []), port);
      const held = this.kind[f] === CUT ? this.shapes[this.piece[f]].held : null;
      this.row(sees, f).set(held ? held.map((x, i) => x - own[i]) : own);
    }
    const rodsOhm = this.rods_ohm * moved.rods;
    return { volts, sees, drive: this.atFaults(volts), rodsOhm, changes: [] };
  }

  /** The ports of the cuts that open switches make. */
  partedBy(opened) {
    const ports = this.switches.filter(({ id }) => opened.includes(id)).flatMap(({ parted }) => parted);
    return [...new Set(ports)].sort((p, q) => p - q);
  }

  row(matrix, k) {
    return matrix.subarray(k * this.size, (k + 1) * this.size);
  }

  /** What is put at a fault's port, and with what share: a number or a row. */
  portOf(fault) {
    this.faultPorts[fault] ??= this.portNew(fault);
    return this.faultPorts[fault];
  }

  portNew(fault) {
    const ports = Array.from(this.ports.subarray(4 * fault, 4 * fault + 4));
    const kind = this.kind[fault];
    if (kind === LE) return { ports: ports.slice(0, 2), shares: [1, -1] };
    if (kind !== CUT) return { ports: ports.slice(0, 1), shares: [1] };
    const halves = (this.hasEarth ? [0, 1] : [0]).map((group) => this.shapes[this.piece[fault]].toMiddle[group]);
    const shares = halves.flatMap((half) => [half, half.map((x) => -x)]);
    return { ports: ports.slice(0, shares.length), shares };
  }

  /** A share as a row. */
  shareRow(share) {
    if (typeof share !== "number") return share;
    const row = new Float64Array(this.size);
    for (let i = 0; i < this.size; i += 2) row[i] = share;
    return row;
  }

  /** What a matrix of the unknowns is at a port, with its shares. */
  seen(matrix, port, found = new Float64Array(this.size)) {
    const { size } = this;
    port.ports.forEach((unknown, k) => {
      const share = port.shares[k];
      const from = unknown * size;
      if (typeof share === "number") for (let i = 0; i < size; i++) found[i] += share * matrix[from + i];
      else addProduct(found, 0, matrix, from, share, 0, size, 1);
    });
    return found;
  }

  /** What a unit at a port does to every unknown, with the changes that stand. */
  column(port, changes) {
    const { size, kit, factors } = this;
    const drive = port.ports.map((unknown, k) => [unknown, this.shareRow(port.shares[k])]);
    const found = substituted(kit, factors, drive);
    for (const change of changes) {
      const much = product(this.seen(change.column, port), change.strength);
      for (let at = 0; at < found.length; at += size) addProduct(found, at, change.column, at, much, 0, size, -1);
    }
    return found;
  }

  /** What a column is at every fault's port. */
  atFaults(column) {
    const found = new Float64Array(this.kind.length * this.size);
    for (let f = 0; f < this.kind.length; f++) this.seen(column, this.portOf(f), this.row(found, f));
    return found;
  }

  /** How strongly a fault of a size acts; rods take a factor in the place of ohms. */
  strength(state, fault, size) {
    const found = new Float64Array(this.size);
    const sees = this.row(state.sees, fault);
    const kind = this.kind[fault];
    const added = kind === RODS ? (1 / size - 1) / state.rodsOhm : -size;
    for (let i = 0; i < this.size; i += 2) {
      // Over: 1 for a shunt, else what is added; under: ohms with what is seen.
      const over = kind === CUT || kind === RODS ? added : 1;
      const times = kind === CUT ? size : kind === RODS ? added : 1;
      const re = (kind === CUT || kind === RODS ? 1 : size) + times * sees[i];
      const im = times * sees[i + 1];
      const scale = over / (re * re + im * im);
      found[i] = re * scale;
      found[i + 1] = -im * scale;
    }
    return found;
  }

  /** The fence with one more fault on it. */
  withFault(state, fault, ohm) {
    const { size, kind } = this;
    const column = this.column(this.portOf(fault), state.changes);
    const strength = this.strength(state, fault, ohm);
    const here = this.atFaults(column);
    const piece = kind[fault] === CUT ? this.piece[fault] : -1;
    const push = product(strength, this.row(state.drive, fault));
    const [volts, drive, sees] = [state.volts.slice(), state.drive.slice(), state.sees.slice()];
    for (let at = 0; at < volts.length; at += size) addProduct(volts, at, column, at, push, 0, size, -1);
    for (let f = 0; f < kind.length; f++) {
      const at = f * size;
      addProduct(drive, at, here, at, push, 0, size, -1);
      const own = this.row(here, f);
      const square = product(own, own);
      if (kind[f] === CUT) for (let i = 0; i < size; i++) square[i] = -square[i];
      addProduct(sees, at, square, 0, strength, 0, size, -1);
    }
    const rodsOhm = state.rodsOhm * (kind[fault] === RODS ? ohm : 1);
    // What stands already drives less or more: it sees the new fault.
    const stood = state.changes.map((change) => {
      const own = product(product(change.strength, this.seen(change.column, this.portOf(fault))), push);
      return { ...change, through: change.through.map((x, i) => x - own[i]) };
    });
    return { volts, drive, sees, rodsOhm, changes: [...stood, { column, strength, through: push, piece }] };
  }

  /** What a reading is on a fence as it stands. */
  reads(watched, state) {
    const found = this.seen(state.volts, watched);
    for (const { through } of cutsIn(watched, state)) addProduct(found, 0, watched.direct, 0, through, 0, this.size, 1);
    return found;
  }

  /** What a unit at each port would take off a reading, with the changes that stand. */
  sensitivity(watched, state) {
    const found = this.column(watched, state.changes);
    for (const { column, strength } of cutsIn(watched, state)) {
      const much = product(watched.direct, strength);
      for (let at = 0; at < found.length; at += this.size) addProduct(found, at, column, at, much, 0, this.size, 1);
    }
    return found;
  }

  /** kV of the live strands to soil at a place; -1: of the rods. */
  voltsAt(place) {
    const ports = [place >= 0 ? this.live[place] : this.rods_port];
    return { ports, shares: [this.shown?.[place] ?? 1], piece: -1, direct: null };
  }

  /** Amps in the live strands at a place, in the piece of a leg that begins or ends there, from its span's a. */
  ampsAt(place, leg) {
    const key = `${place} ${leg}`;
    if (this.known.has(key)) return this.known.get(key);
    const number = this.spans.indexOf(leg);
    let piece = this.span.findIndex((of, k) => of === number && this.a[k] === place);
    const begins = piece >= 0;
    if (!begins) piece = this.span.findIndex((of, k) => of === number && this.b[k] === place);
    const ends = begins ? [this.a[piece], this.b[piece]] : [this.b[piece], this.a[piece]];
    const ports = ends.flatMap((end) => [this.live[end], Math.max(this.earth[end], 0)]);
    const { own, across, toMiddle } = this.shapes[piece];
    const rows = [own[0], own[1], across[0], across[1]];
    const shares = begins ? rows : rows.map((row) => row.map((x) => -x));
    const found = { ports, shares, piece, direct: toMiddle[0] };
    this.known.set(key, found);
    return found;
  }
}
