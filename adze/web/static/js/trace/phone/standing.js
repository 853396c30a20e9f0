// How a search stands on the device: what the server knows of it, and what waits here to be sent.

const FIRST = ["checked", "unit", "lead"];
const ASIDE = ["begin", "end", "used", "photo", "practised", "later"]; // what is no step of the search itself

/** What the shed has, less what waits here to be counted. */
export const shedLeft = ({ shed }, waits) =>
  shed.map((row) => {
    const own = waits.filter(({ typed, refused }) => !refused && typed.what === "used" && typed.part === row.part);
    const used = own.reduce((sum, { typed }) => sum + Number(typed.quantity.trim().replace(",", ".")), 0);
    return { ...row, quantity: Number((row.quantity - used).toFixed(6)) };
  });

/** What was done, the search's own steps of it, what is next of the beginning, whether it goes on or ended here. */
export function standsOf(known, waits) {
  const ours = waits.filter(({ refused }) => !refused);
  const all = [...known.steps, ...ours.map(({ step }) => step)];
  const gone = new Set(all.map(({ of }) => of));
  const done = all.filter(({ what, once }) => what !== "undo" && !gone.has(once));
  const last = ours.findLast(({ step }) => step.what === "end" || step.what === "begin")?.step.what;
  return {
    done,
    steps: done.filter(({ what }) => !ASIDE.includes(what)),
    next: FIRST.find((what) => !done.some((step) => step.what === what)),
    isGoing: last ? last === "begin" : known.search > 0,
    hasEnded: last === "end",
  };
}
