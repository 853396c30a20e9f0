// The list of farms: plans that are being judged are looked at again until they are.

const AGAIN_MS = 1200;
const MOST = 40;

async function again(left) {
  if (!left || !document.querySelector("[data-unjudged]")) return;
  const answer = await fetch(location.href, { headers: { Accept: "text/html" } });
  if (!answer.ok) return;
  const fresh = new DOMParser().parseFromString(await answer.text(), "text/html");
  for (const card of document.querySelectorAll("[data-unjudged]")) {
    const address = card.closest("a").getAttribute("href");
    const now = fresh.querySelector(`a[href="${address}"] .verdict`);
    if (now && !now.matches("[data-unjudged]")) card.replaceWith(now);
  }
  setTimeout(() => again(left - 1), AGAIN_MS);
}

again(MOST);
