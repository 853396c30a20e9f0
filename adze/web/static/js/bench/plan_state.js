// A plan as the server told it: its document and its forecast, and what is asked of both.

const ROWS = { run: "runs", fixture: "fixtures", landmark: "landmarks", note: "notes" };

export class PlanState extends EventTarget {
  tell(type, detail) {
    this.dispatchEvent(new CustomEvent(type, { detail }));
  }

  on(types, handler) {
    for (const type of types.split(" ")) this.addEventListener(type, handler);
  }

  /** The row of the document by what it is called when chosen. */
  find(key) {
    const [what, id] = key.split(":");
    return (this.doc[ROWS[what]] ?? []).find((row) => row.id === id);
  }

  get units() {
    return this.doc.units;
  }

  get volts() {
    return this.forecast?.seasons?.[this.season] ?? null;
  }

  get routes() {
    return this.forecast?.routes ?? [];
  }

  get ground() {
    return this.forecast?.ground ?? {};
  }

  run(id) {
    return this.doc.runs.find((r) => r.id === id);
  }

  trace(id) {
    return this.volts?.traces.find((t) => t.run === id);
  }

  /** The shown construction, as the server drew it up. */
  get fence() {
    return this.forecast?.fences?.[this.fenceId] ?? null;
  }

  /** How many of the shown construction's strands are woven into netting. */
  get woven() {
    return this.fence?.netting?.count ?? 0;
  }

  /** The construction of a line; the plan's own for a line that is not there. */
  fenceOf(run) {
    return this.forecast?.fences?.[this.run(run)?.fence ?? ""] ?? null;
  }

  wantedOn(run) {
    return this.fenceOf(run)?.wanted_kv ?? this.forecast?.wanted_kv ?? 3;
  }

  /** What the document says of the shown construction: its own row, or the plan itself. */
  get construction() {
    return this.doc.fences.find((f) => f.id === this.fenceId) ?? this.doc;
  }

  spacingOn(run) {
    return (this.doc.fences.find((f) => f.id === this.run(run)?.fence) ?? this.doc).post_spacing_m;
  }
}
