// What is pressed at the bench is sent at once; where there is no connection it waits on this phone, in order, and
// is sent when there is one. Each press bears a key of its own, so that nothing is written twice; what the server
// will not take, because somebody else wrote something meanwhile, is shown and never dropped.
(function () {
  const person = document.body.dataset.person;
  if (!person || !window.indexedDB) return;
  const STORE = "presses";
  // A connection that has just come back often fails once more: tried again soon, and then less and less often.
  const SOON_MS = 2000,
    SELDOM_MS = 20000;

  const opened = new Promise(function (resolve, reject) {
    const ask = indexedDB.open("elder-round", 1);
    ask.onupgradeneeded = function () {
      ask.result.createObjectStore(STORE, { keyPath: "id", autoIncrement: true });
    };
    ask.onsuccess = function () {
      resolve(ask.result);
    };
    ask.onerror = function () {
      reject(ask.error);
    };
  });
  const run = async function (mode, work) {
    const database = await opened;
    return new Promise(function (resolve, reject) {
      const transaction = database.transaction(STORE, mode);
      const ask = work(transaction.objectStore(STORE));
      transaction.oncomplete = function () {
        resolve(ask.result);
      };
      transaction.onerror = function () {
        reject(transaction.error);
      };
    });
  };
  const mine = async function () {
    const all = await run("readonly", function (store) {
      return store.getAll();
    });
    return all.filter(function (item) {
      return item.person === person;
    });
  };
  const keep = function (item) {
    return run("readwrite", function (store) {
      return store.put(item);
    });
  };
  const drop = function (id) {
    return run("readwrite", function (store) {
      return store.delete(id);
    });
  };

  const token = function () {
    const field = document.querySelector('[name="csrfmiddlewaretoken"]');
    return field ? field.value : "";
  };
  // A page kept since before the last sign-in holds an old token: a fresh page has the new one.
  const renewToken = async function () {
    const answer = await fetch(location.href, { headers: { "X-Elder-Keep": "1" } });
    const fresh = new DOMParser()
      .parseFromString(await answer.text(), "text/html")
      .querySelector('[name="csrfmiddlewaretoken"]');
    if (fresh)
      document.querySelectorAll('[name="csrfmiddlewaretoken"]').forEach(function (field) {
        field.value = fresh.value;
      });
    return Boolean(fresh);
  };

  // "sent", "refused" (with why), "later" or "sign-in".
  const send = async function (item, again) {
    const body = new FormData();
    item.fields.forEach(function (pair) {
      body.append(pair[0], pair[1]);
    });
    body.set("csrfmiddlewaretoken", token());
    let answer;
    try {
      answer = await fetch(item.url, { method: "POST", body: body, headers: { Accept: "application/json" } });
    } catch {
      return { state: "later" };
    }
    if (answer.redirected) return { state: "sign-in" };
    if (answer.status === 403 && !again) return (await renewToken()) ? send(item, true) : { state: "sign-in" };
    if (answer.status === 403 || answer.status === 404)
      return { state: "refused", said: "That is not there for you any more." };
    if (!answer.ok) return { state: "later" };
    const told = await answer.json();
    return told.ok ? { state: "sent", next: told.next } : { state: "refused", said: told.said, seen: told.seen };
  };

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
    const fields = [];
    data.forEach(function (value, name) {
      if (name === "csrfmiddlewaretoken" || (value instanceof File && !value.size)) return;
      if (name === "key") value = crypto.randomUUID();
      // A page drawn yesterday and pressed today writes today.
      if (days > 0 && (name === "on" || name.endsWith("-on")))
        value = new Date(Date.parse(value) + days * 86400000).toISOString().slice(0, 10);
      fields.push([name, value]);
    });
    return {
      person: person,
      url: form.action,
      fields: fields,
      said: form.dataset.said,
      marks: form.dataset.marks || "",
      at: Date.now(),
      state: "waiting",
      why: "",
    };
  };

  document.addEventListener("input", function (event) {
    if (event.target.type === "date") event.target.dataset.edited = "1";
  });

  document.addEventListener("submit", async function (event) {
    const form = event.target;
    if (!form.matches("form[data-queue]") || event.defaultPrevented) return;
    event.preventDefault();
    if (form.dataset.busy) return;
    form.dataset.busy = "1";
    const item = gathered(form, event.submitter);
    // Behind what still waits: presses are sent in the order they were made.
    const waits = (await mine()).some(function (other) {
      return other.state === "waiting";
    });
    const told = waits ? { state: "later" } : await send(item);
    if (told.state === "sent") {
      location.assign(told.next);
      return;
    }
    delete form.dataset.busy;
    if (told.state === "later") {
      await keep(item);
      if (form.dataset.draft) forget(form.dataset.draft);
      await draw();
      if (location.pathname !== form.dataset.then) location.assign(form.dataset.then);
      else drain();
      return;
    }
    // Signed out meanwhile, or refused: the page itself says so beside its fields, with all that was typed.
    if (event.submitter && event.submitter.name) {
      const pressed = document.createElement("input");
      pressed.type = "hidden";
      pressed.name = event.submitter.name;
      pressed.value = event.submitter.value;
      form.append(pressed);
    }
    form.submit();
  });

  const forget = function (draft) {
    Object.keys(sessionStorage)
      .filter(function (key) {
        return key.endsWith(":" + draft);
      })
      .forEach(function (key) {
        sessionStorage.removeItem(key);
      });
  };

  let draining = false,
    wait = SOON_MS;
  const drain = async function () {
    if (draining) return;
    draining = true;
    let sent = 0,
      signedOut = false;
    try {
      for (const item of await mine()) {
        if (item.state !== "waiting") continue;
        const told = await send(item);
        if (told.state === "later") break;
        if (told.state === "sign-in") {
          signedOut = true;
          break;
        }
        if (told.state === "sent") {
          await drop(item.id);
          sent += 1;
          continue;
        }
        item.state = "refused";
        item.why = told.said;
        item.seen = told.seen || null;
        await keep(item);
      }
    } finally {
      draining = false;
    }
    await draw(signedOut);
    const left = (await mine()).filter(function (item) {
      return item.state === "waiting";
    }).length;
    wait = sent || !left ? SOON_MS : Math.min(2 * wait, SELDOM_MS);
    if (left) setTimeout(drain, wait);
    // The page was drawn before these were written: fetch it anew, unless somebody is typing in it.
    if (sent && !left && document.querySelector("[data-round]")) location.reload();
  };

  const made = function (tag, className, text) {
    const one = document.createElement(tag);
    if (className) one.className = className;
    one.textContent = text;
    return one;
  };
  const pressable = function (text, work) {
    const one = made("button", "link-button", text);
    one.type = "button";
    one.addEventListener("click", work);
    return one;
  };

  const line = function (item) {
    const row = made("li", "reach-" + item.state, "");
    row.append(made("span", "", item.said + (item.state === "refused" ? ". " + item.why : "")));
    if (item.state === "refused" && item.seen) {
      row.append(
        pressable("Write mine down besides", async function () {
          item.fields = item.fields
            .filter(function (pair) {
              return pair[0] !== "seen";
            })
            .concat([["seen", String(item.seen)]]);
          item.state = "waiting";
          await keep(item);
          drain();
        }),
      );
    }
    row.append(
      pressable(item.state === "refused" ? "Let it go" : "Take it back", async function () {
        await drop(item.id);
        location.reload();
      }),
    );
    return row;
  };

  const draw = async function (signedOut) {
    const items = await mine();
    const place = document.getElementById("reach");
    const waiting = items.filter(function (item) {
      return item.state === "waiting";
    });
    const refused = items.filter(function (item) {
      return item.state === "refused";
    });
    document.querySelectorAll(".job-kept").forEach(function (job) {
      job.classList.remove("job-kept");
    });
    waiting.forEach(function (item) {
      item.marks.split(" ").forEach(function (id) {
        const job = id && document.getElementById(id);
        if (job) job.classList.add("job-kept");
      });
    });
    place.hidden = !items.length && !place.dataset.out;
    const words = [];
    if (place.dataset.out) words.push("Out of reach. " + place.dataset.out);
    if (waiting.length)
      words.push(
        (waiting.length === 1 ? "One thing is" : waiting.length + " things are") +
          " kept on this phone" +
          (signedOut ? "; sign in and they are sent." : ", and sent when there is a connection."),
      );
    if (refused.length)
      words.push((refused.length === 1 ? "One could" : refused.length + " could") + " not be written down:");
    const list = document.createElement("ul");
    list.append(...refused.concat(waiting).map(line));
    place.replaceChildren(made("p", "", words.join(" ")), list);
  };

  window.elderQueue = { draw: draw, drain: drain };
  window.addEventListener("online", drain);
  document.addEventListener("visibilitychange", function () {
    if (!document.hidden) drain();
  });
  draw().then(drain);
})();
