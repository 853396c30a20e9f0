// Asking the server; every write carries the session's word.

export class ServerError extends Error {
  constructor(status, body) {
    super(body.message ?? "The server did not answer as it should.");
    this.status = status;
    this.body = body;
  }
}

/** The lines of an answer that comes bit by bit; a fault among them is thrown. */
async function serverLines(response, heard) {
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
  let rest = "";
  let last = {};
  for (;;) {
    const { done, value } = await reader.read();
    rest += value ?? "";
    const lines = rest.split("\n");
    rest = lines.pop();
    for (const line of lines) {
      last = JSON.parse(line);
      heard(last);
    }
    if (done) break;
  }
  if (last.fault) throw new ServerError(422, { message: last.fault });
  return last;
}

export class Api {
  constructor(plan, csrf) {
    this.base = `/api/plans/${plan}`;
    this.csrf = csrf;
  }

  /** Send a file and hear of its progress, line by line, until the last word. */
  async send(path, file, { signal, heard = () => {} } = {}) {
    const response = await fetch(this.base + path, {
      method: "POST",
      signal,
      headers: {
        "Content-Type": "application/octet-stream",
        "X-CSRF-Token": this.csrf,
        "X-File-Name": encodeURIComponent(file.name).slice(0, 380),
      },
      body: file,
    });
    if (!response.ok || !response.headers.get("Content-Type")?.includes("ndjson")) {
      const content = await response.json().catch(() => ({}));
      if (!response.ok) throw new ServerError(response.status, content);
      return content;
    }
    return serverLines(response, heard);
  }

  /** Ask for something that takes its time: every line that it tells is heard. */
  async lines(path, body, { signal, heard }) {
    const response = await fetch(this.base + path, {
      method: "POST",
      signal,
      headers: { "Content-Type": "application/json", "X-CSRF-Token": this.csrf },
      body: JSON.stringify(body),
    });
    if (!response.ok) throw new ServerError(response.status, await response.json().catch(() => ({})));
    return serverLines(response, heard);
  }

  async ask(path, { method = "GET", body, signal } = {}) {
    let response;
    try {
      response = await fetch(this.base + path, {
        method,
        signal,
        headers: { "Content-Type": "application/json", "X-CSRF-Token": this.csrf },
        body: body === undefined ? undefined : JSON.stringify(body),
      });
    } catch (error) {
      if (error.name === "AbortError") throw error;
      throw new ServerError(0, { message: "No answer from the server. Your change is still here: try again." });
    }
    const content = await response.json().catch(() => ({}));
    if (!response.ok) throw new ServerError(response.status, content);
    return content;
  }
}
