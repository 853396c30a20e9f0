// Alarms told on this device by the browser, page open or not, where the browser can: asked for by a press.

import { ServerError } from "../basics/api.js";

const canBeTold = () => "PushManager" in window && "Notification" in window && navigator.serviceWorker !== undefined;

async function subscription() {
  const worker = await navigator.serviceWorker.getRegistration("/");
  return worker?.pushManager.getSubscription() ?? null;
}

/** Bytes of a key that came as base64url. */
const bytes = (text) =>
  Uint8Array.from(atob(text.replaceAll("-", "+").replaceAll("_", "/")), (letter) => letter.charCodeAt(0));

class Push {
  constructor(bench) {
    this.bench = bench;
    bench.on("state", () => this.offer());
    this.offer();
    document.getElementById("bench").addEventListener("click", ({ target }) => {
      const button = target.closest("[data-push]");
      if (button) this.turn(button);
    });
  }

  /** Say what this browser can, and whether it is told already. */
  async offer() {
    const button = document.querySelector("[data-push]");
    if (!button) return;
    const can = canBeTold();
    const told = can && Boolean(await subscription());
    button.hidden = !can;
    button.textContent = told ? "Stop notices on this device" : "Tell me on this device";
    button.dataset.push = told ? "off" : "on";
    if (!can) this.say("This browser gets no notices while the page is closed. Mail works.");
    else if (told) this.say("Alarms reach this device even when the page is closed.");
  }

  say(words) {
    const line = document.getElementById("push-says");
    if (line) line.textContent = words;
  }

  async turn(button) {
    button.disabled = true;
    try {
      await (button.dataset.push === "on" ? this.on() : this.off());
      this.say("");
      await this.offer();
    } catch (error) {
      this.say(error.message);
    } finally {
      button.disabled = false;
    }
  }

  async on() {
    if ((await Notification.requestPermission()) !== "granted") {
      throw new Error(
        "This browser blocks notices from Adze. Allow them in the settings of the page, then press again.",
      );
    }
    await navigator.serviceWorker.register("/sw.js");
    const worker = await navigator.serviceWorker.ready;
    const { key } = await this.ask("GET", "/api/push");
    let made;
    try {
      made = await worker.pushManager.subscribe({ userVisibleOnly: true, applicationServerKey: bytes(key) });
    } catch (error) {
      throw new Error(`The browser's push service did not answer: ${error.message}. Try again with signal.`, {
        cause: error,
      });
    }
    const { endpoint, keys } = made.toJSON();
    try {
      await this.ask("POST", "/api/push", { endpoint, p256dh: keys.p256dh, auth: keys.auth });
    } catch (error) {
      await made.unsubscribe();
      throw error;
    }
  }

  async off() {
    const made = await subscription();
    if (!made) return;
    await this.ask("POST", "/api/push/off", { endpoint: made.endpoint });
    await made.unsubscribe();
  }

  async ask(method, path, body) {
    const headers = { "Content-Type": "application/json", "X-CSRF-Token": this.bench.api.csrf };
    const answer = await fetch(path, { method, headers, body: body && JSON.stringify(body) });
    const told = await answer.json().catch(() => ({}));
    if (!answer.ok) throw new ServerError(answer.status, { message: told.faults?.[0]?.message ?? told.message });
    return told;
  }
}

export const mount = (bench) => new Push(bench);
