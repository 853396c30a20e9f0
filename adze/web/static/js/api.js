// Asking the server; every write carries the session's word.

export class ServerError extends Error {
  constructor(status, body) {
    super(body.message ?? "The server did not answer as it should.");
    this.status = status;
    this.body = body;
  }
}

export class Api {
  constructor(plan, csrf) {
    this.base = `/api/plans/${plan}`;
    this.csrf = csrf;
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
