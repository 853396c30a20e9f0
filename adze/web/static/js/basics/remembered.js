// What a browser keeps of the account that is signed in, for its tab or for all; where storage is shut, nothing.

import { ownKey } from "../device/owner.js";

/** @typedef {"sessionStorage" | "localStorage"} Kept */

/** @param {Kept} storage @param {string} key */
function read(storage, key) {
  try {
    return JSON.parse(window[storage].getItem(ownKey(key)) ?? "null");
  } catch {
    return null;
  }
}

/** @param {Kept} storage @param {string} key @param {any} value */
function write(storage, key, value) {
  try {
    window[storage].setItem(ownKey(key), JSON.stringify(value));
  } catch {
    // storage may be shut
  }
}

export const recall = (key) => read("sessionStorage", key);
export const remember = (key, value) => write("sessionStorage", key, value);
/** In every tab of this browser. */
export const recallHere = (key) => read("localStorage", key);
export const rememberHere = (key, value) => write("localStorage", key, value);
