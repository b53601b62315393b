// One press sent, and what came back told apart: written, refused by Elder, not taken at all, or a bad line, after
// which it is only known that it may have been written. Every request has a time limit.
(function () {
  const LIMIT_MS = 12000;
  const LATER = [408, 425, 429, 502, 503, 504];
  const TOO_LARGE = "It is too large to be taken: try a smaller photo.";
  const NOT_TAKEN = "Elder does not take it as it is.";
  const NOT_YOURS = "That is not there for you any more.";
  const BROKEN = "Something went wrong in Elder when it was written down.";

  const limited = async function (url, options) {
    const stop = new AbortController();
    const timer = setTimeout(function () {
      stop.abort();
    }, LIMIT_MS);
    try {
      const answer = await fetch(url, Object.assign({ signal: stop.signal, credentials: "same-origin" }, options));
      // The whole of it inside the limit: a line may stop half way through.
      return { answer: answer, text: await answer.text() };
    } finally {
      clearTimeout(timer);
    }
  };

  const token = function () {
    const field = document.querySelector('[name="csrfmiddlewaretoken"]');
    return field ? field.value : "";
  };
  // A page kept since before the last sign-in holds an old token: a fresh page has the new one.
  const renewToken = async function (person) {
    const got = await limited(location.href, { headers: { "X-Elder-Keep": "1" } });
    const page = new DOMParser().parseFromString(got.text, "text/html");
    if (page.body.dataset.person !== person) return page.body.dataset.person ? "other" : "sign-in";
    const fresh = page.querySelector('[name="csrfmiddlewaretoken"]');
    if (!fresh) return "sign-in";
    document.querySelectorAll('[name="csrfmiddlewaretoken"]').forEach(function (field) {
      field.value = fresh.value;
    });
    return "";
  };

  const later = function (answer) {
    const wait = answer ? Number(answer.headers.get("Retry-After")) : 0;
    return { state: "later", line: true, waitMs: wait > 0 ? Math.min(wait, 300) * 1000 : 0 };
  };
  const told = function (text) {
    try {
      return JSON.parse(text);
    } catch {
      return null;
    }
  };

  // {state: "sent" | "refused" | "parked" | "later" | "sign-in" | "other", …}; line: nothing else would get through.
  const judged = function (got) {
    const answer = got.answer;
    const ours = answer.headers.get("X-Elder-Answer") === "1" ? told(got.text) : null;
    if (answer.redirected && new URL(answer.url).pathname.startsWith("/sign-in")) return { state: "sign-in" };
    if (answer.status === 409 && ours) return { state: "other" };
    if (answer.ok) {
      // A page that greets one before it lets one through answers everything with a friendly 200.
      if (!ours || typeof ours.ok !== "boolean") return later(answer);
      return ours.ok
        ? { state: "sent", next: ours.next, written: ours.written }
        : { state: "refused", why: ours.said, seen: ours.seen };
    }
    if (LATER.includes(answer.status)) return later(answer);
    if (answer.status >= 500) return { state: "later", line: false, why: BROKEN };
    if (answer.status === 413) return { state: "parked", why: TOO_LARGE };
    return { state: "parked", why: [401, 403, 404, 410].includes(answer.status) ? NOT_YOURS : NOT_TAKEN };
  };

  const send = async function (url, fields, person, again) {
    if (navigator.onLine === false) return later();
    const body = new FormData();
    fields.forEach(function (pair) {
      body.append(pair[0], pair[1]);
    });
    body.set("csrfmiddlewaretoken", token());
    try {
      const headers = { Accept: "application/json", "X-Elder-Person": person };
      const got = await limited(url, { method: "POST", body: body, headers: headers });
      if (got.answer.status === 403 && !again) {
        const whose = await renewToken(person);
        return whose ? { state: whose } : send(url, fields, person, true);
      }
      return judged(got);
    } catch {
      return later();
    }
  };

  window.elderSend = send;
})();
