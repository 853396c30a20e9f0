// Passkeys: one is made on the account's page, and signs in on the page for signing in.

async function ask(path, body, csrf) {
  const answer = await fetch(path, {
    method: "POST",
    headers: { "Content-Type": "application/json", "X-CSRF-Token": csrf },
    body: JSON.stringify(body),
  });
  const content = await answer.json().catch(() => ({}));
  if (!answer.ok) throw new Error(content.message ?? "The server did not answer as it should.");
  return content;
}

const said = {
  NotAllowedError: "No passkey was used. Try again, or use your password.",
  InvalidStateError: "This device has a passkey for your account already.",
  SecurityError: "Passkeys need a host name with TLS, or localhost.",
};

/** Do the steps that a button begins; what goes wrong is said beside it. */
function upon(id, steps) {
  const button = document.getElementById(id);
  if (!button) return;
  if (!window.PublicKeyCredential?.parseCreationOptionsFromJSON) return;
  button.hidden = false;
  button.addEventListener("click", async () => {
    const why = document.getElementById(`${id}-why`);
    why.textContent = "";
    try {
      location.assign((await steps(button.dataset.csrf)).next);
    } catch (error) {
      why.textContent = said[error.name] ?? error.message;
    }
  });
}

upon("passkey-add", async (csrf) => {
  const password = document.getElementById("passkey-password").value;
  const { challenge, options } = await ask("/api/account/passkeys/begin", { password }, csrf);
  const publicKey = PublicKeyCredential.parseCreationOptionsFromJSON(options);
  const credential = /** @type {any} */ (await navigator.credentials.create({ publicKey }));
  return ask("/api/account/passkeys", { challenge, credential: credential.toJSON() }, csrf);
});

upon("passkey-sign-in", async (csrf) => {
  const { challenge, options } = await ask("/api/sign-in/begin", { csrf }, csrf);
  const publicKey = PublicKeyCredential.parseRequestOptionsFromJSON(options);
  const credential = /** @type {any} */ (await navigator.credentials.get({ publicKey }));
  return ask("/api/sign-in", { challenge, credential: credential.toJSON(), csrf }, csrf);
});
