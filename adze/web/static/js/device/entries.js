// What waits on this device to be sent, each entry under the account that typed it: in IndexedDB, past a closed page.

import { account } from "./owner.js";

export class Entries {
  /** A store of entries by name; `key` says how they are numbered. */
  constructor(base, name, key) {
    this.base = base;
    this.name = name;
    this.key = key;
  }

  opened() {
    return new Promise((done, failed) => {
      const asked = indexedDB.open(this.base, 2);
      asked.onupgradeneeded = () => {
        if (!asked.result.objectStoreNames.contains(this.name)) asked.result.createObjectStore(this.name, this.key);
      };
      asked.onsuccess = () => done(asked.result);
      asked.onerror = () => failed(asked.error);
    });
  }

  async change(mode, act) {
    const base = await this.opened();
    return new Promise((done, failed) => {
      const change = base.transaction(this.name, mode);
      const asked = act(change.objectStore(this.name));
      change.oncomplete = () => {
        base.close();
        done(asked?.result);
      };
      change.onerror = () => failed(change.error);
    });
  }

  /** Those of an account, in their order: of the one that is signed in unless said, of none ("") by an old edition. */
  async of(owner = account()) {
    const rows = (await this.change("readonly", (all) => all.getAll())) ?? [];
    return rows.filter((row) => (row.account ?? "") === owner);
  }

  /** Keep an entry as the account's that is signed in. */
  put(row) {
    return this.change("readwrite", (rows) => rows.put({ ...row, account: account() }));
  }

  drop(row) {
    return this.change("readwrite", (rows) => rows.delete(row[this.key.keyPath]));
  }
}

export const readings = new Entries("adze-outbox", "entries", { keyPath: "once" });
export const steps = new Entries("adze-trace", "steps", { keyPath: "number", autoIncrement: true });
const ALL = [readings, steps];

/** What waits of the account that is signed in, as people say it: empty where nothing does. */
export async function waits() {
  const many = [
    ["reading", (await readings.of()).length],
    ["step of a search", (await steps.of()).length],
  ];
  const plural = (noun, count) => (count === 1 ? `1 ${noun}` : `${count} ${noun.replace(/^\w+/, "$&s")}`);
  return many
    .filter(([, count]) => count)
    .map(([noun, count]) => plural(noun, count))
    .join(" and ");
}

/** Throw away all that waits of an account: of the one that is signed in unless said. */
export async function dropAll(owner = account()) {
  for (const entries of ALL) for (const row of await entries.of(owner)) await entries.drop(row);
}

/** How many name no account. */
export const unnamed = async () => (await Promise.all(ALL.map((entries) => entries.of("")))).flat().length;

/** Those that name no account are the account's that is signed in. */
export async function takeUnnamed() {
  for (const entries of ALL) for (const row of await entries.of("")) await entries.put(row);
}
