// A press at the bench is kept on this phone first, then sent; it waits in order where there is no connection. Each
// bears a key of its own, so that nothing is written twice; what the server will not take is shown with its reason,
// never dropped, and holds nothing else up.
(function () {
  const presses = window.elderPresses;
  if (!presses) return;
  // A connection that has just come back often fails once more: tried again soon, and then less and less often.
  const SOON_MS = 2000,
    SELDOM_MS = 20000,
    PATIENCE_MS = 8000, // what a thumb waits for before the round goes on
    TRIES = 4;

  const localDay = function (moment) {
    return new Date(moment.getTime() - moment.getTimezoneOffset() * 60000).toISOString().slice(0, 10);
  };
  const daysSinceDrawn = function () {
    const drawn = new Date(Number(document.body.dataset.rendered) * 1000);
    return Math.round((Date.parse(localDay(new Date())) - Date.parse(localDay(drawn))) / 86400000);
  };

  const gathered = function (form, submitter) {
    const data = new FormData(form, submitter);
    const days = form.querySelector("[data-edited]") ? 0 : daysSinceDrawn();
    const fields = [],
      batches = (form.action.match(/\/(?:look|batch)\/(\d+)\//) || []).slice(1);
    data.forEach(function (value, name) {
      if (name === "csrfmiddlewaretoken" || (value instanceof File && !value.size)) return;
      if (name === "key" && crypto.randomUUID) value = crypto.randomUUID();
      if (name === "batch") batches.push(value);
      // A page drawn yesterday and pressed today writes today.
      if (days > 0 && (name === "on" || name.endsWith("-on")))
        value = new Date(Date.parse(value) + days * 86400000).toISOString().slice(0, 10);
      fields.push([name, value]);
    });
    return {
      url: form.action,
      fields: fields,
      batches: batches,
      said: form.dataset.said,
      marks: form.dataset.marks || "",
      at: Date.now(),
      state: "waiting",
      tries: 0,
      why: "",
    };
  };

  document.addEventListener("input", function (event) {
    if (event.target.type === "date") event.target.dataset.edited = "1";
  });

  const patiently = function (work) {
    return Promise.race([
      work,
      new Promise(function (resolve) {
        setTimeout(resolve, PATIENCE_MS);
      }),
    ]);
  };

  document.addEventListener("submit", async function (event) {
    const form = event.target;
    if (!form.matches("form[data-queue]") || event.defaultPrevented) return;
    event.preventDefault();
    if (form.dataset.busy) return;
    form.dataset.busy = "1";
    const item = gathered(form, event.submitter);
    try {
      item.id = await presses.put(item);
    } catch {
      natively(form, event.submitter); // a browser that keeps nothing still sends
      return;
    }
    awaited.add(item.id);
    await patiently(drain(item.id));
    delete form.dataset.busy;
    const fate = fates.get(item.id) || { state: "later" };
    if (fate.state === "sent") {
      location.assign(fate.next);
      return;
    }
    awaited.delete(item.id);
    if (fate.state === "refused" && !fate.seen) {
      // Refused for what was typed: the page itself says so beside its fields, with all of it.
      await presses.drop(item.id);
      natively(form, event.submitter);
      return;
    }
    if (form.dataset.draft) forgetDraft(form.dataset.draft);
    await window.elderWaiting.draw();
    if (location.pathname !== form.dataset.then) location.assign(form.dataset.then);
  });

  const natively = function (form, submitter) {
    if (submitter && submitter.name) {
      const pressed = document.createElement("input");
      pressed.type = "hidden";
      pressed.name = submitter.name;
      pressed.value = submitter.value;
      form.append(pressed);
    }
    form.submit();
  };

  const forgetDraft = function (draft) {
    Object.keys(sessionStorage)
      .filter(function (key) {
        return key.endsWith(":" + draft);
      })
      .forEach(function (key) {
        sessionStorage.removeItem(key);
      });
  };

  // What became of the presses of this page, by id; and those that a submit waits for, which goes where they lead.
  const fates = new Map(),
    awaited = new Set();

  // Taken back while it was on its way: the server is asked, and told never to take it if it has not yet.
  const withdraw = async function (item) {
    const garden = item.url.match(/\/g\/\d+\//)[0];
    const kept = item.fields.filter(function (pair) {
      return pair[0] === "key" || pair[0] === "batch";
    });
    const asked = await window.elderSend(garden + "round/withdraw/", kept, presses.person);
    if (asked.state === "refused" || asked.state === "parked")
      await presses.put(Object.assign(item, { state: "refused", back: false, why: asked.why }));
    if (asked.state !== "sent") return asked;
    await presses.drop(item.id);
    if (asked.written) window.elderWaiting.tooLate(item.said);
    return asked;
  };

  const deliver = async function (item) {
    if (item.back) return withdraw(item);
    await presses.put(Object.assign(item, { flying: Date.now() }));
    const told = await window.elderSend(item.url, item.fields, presses.person);
    const now = await presses.one(item.id);
    if (!now) return told; // somebody else has signed in meanwhile, or it was let go of
    now.flying = 0;
    if (told.state === "sent") {
      await presses.drop(item.id);
      if (now.back) window.elderWaiting.tooLate(item.said);
    } else if (told.state === "refused" || told.state === "parked") {
      await presses.put(Object.assign(now, { state: "refused", why: told.why, seen: told.seen || null }));
    } else {
      now.tries += told.why ? 1 : 0;
      now.sent = now.sent || told.state === "later"; // it may have arrived
      if (now.tries >= TRIES) Object.assign(now, { state: "refused", why: told.why, again: true });
      await presses.put(now);
    }
    return told;
  };

  // One tab sends at a time, each press after those made before it for the same batch.
  const alone = function (work) {
    return navigator.locks ? navigator.locks.request("elder-presses-" + presses.person, work) : work();
  };
  let under = null,
    wait = SOON_MS,
    timer = 0;
  const pass = async function () {
    const held = new Set();
    let sent = 0,
      stopped = "",
      waitMs = 0,
      leads = false;
    for (const listed of await presses.all()) {
      const item = await presses.one(listed.id);
      if (!item || item.state !== "waiting") continue;
      const behind = item.batches.some(function (batch) {
        return held.has(batch);
      });
      if (behind) continue;
      const told = await deliver(item);
      fates.set(item.id, told);
      if (told.state === "sent") sent += 1;
      leads = leads || awaited.has(item.id);
      if (told.state === "sign-in" || told.state === "other") stopped = told.state;
      waitMs = Math.max(waitMs, told.waitMs || 0);
      if (stopped || (told.state === "later" && told.line)) break;
      if (told.state === "later") item.batches.forEach(held.add, held);
    }
    return { sent: sent, stopped: stopped, waitMs: waitMs, leads: leads };
  };
  const drain = async function (id) {
    while (under) await under; // a pass that had begun may not have seen this press
    if (id && fates.has(id)) return;
    under = alone(pass);
    let done;
    try {
      done = await under;
    } finally {
      under = null;
    }
    const left = (await presses.all()).filter(function (item) {
      return item.state === "waiting";
    }).length;
    wait = done.sent || !left ? SOON_MS : Math.min(2 * wait, SELDOM_MS);
    clearTimeout(timer);
    if (left && !done.stopped) timer = setTimeout(drain, Math.max(wait, done.waitMs));
    await window.elderWaiting.draw(done.stopped);
    // The page was drawn before these were written: fetch it anew, unless a press of its own leads on from it. Twice
    // fetched, it would take what the first has to say.
    if (done.sent && !left && !done.leads && document.querySelector("[data-round]")) location.reload();
  };

  window.elderQueue = { drain: drain };
  window.addEventListener("online", function () {
    drain();
  });
  document.addEventListener("visibilitychange", function () {
    if (!document.hidden) drain();
  });
  window.elderWaiting.draw().then(function () {
    drain();
  });
})();
