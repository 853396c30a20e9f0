// Whose is what this device keeps: all of it lies under the account that is signed in.

/** The key of the account that is signed in; empty where nobody is. */
export const account = () => globalThis.document?.documentElement.dataset.account ?? "";

/** A key of the browser's storage under the account. */
export const ownKey = (key) => `${account()}/${key}`;

/** Heads of a request that may be sent later than it was typed: the server takes it of that account alone. */
export const typedBy = (owner) => ({ "X-Typed-By": owner });
