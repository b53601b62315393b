// What is still on this phone, said at the top of the page: what waits, what was refused and why, each with its button.
(function () {
  const presses = window.elderPresses;
  if (!presses) return;
  const LATE = "elder-too-late";
  const late = JSON.parse(sessionStorage.getItem(LATE) || "[]");
  sessionStorage.removeItem(LATE);
  let stoppedBy = "";

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
  const again = async function (item, more) {
    const now = await presses.one(item.id); // as it is, not as it was drawn
    if (now) await presses.put(Object.assign(now, { state: "waiting", tries: 0, why: "" }, more));
    await window.elderQueue.drain();
  };

  const takeBack = async function (id) {
    const item = await presses.one(id);
    if (!item) return;
    if (item.state === "refused" || !(item.flying || item.sent)) {
      await presses.drop(id);
      location.reload();
      return;
    }
    // It was on its way, and may have been written: whether it was is asked before it is let go of.
    await presses.put(Object.assign(item, { back: true }));
    await draw();
    await window.elderQueue.drain();
  };

  const words = function (item) {
    if (item.state === "refused") return item.said + ". " + item.why;
    return item.said + (item.back ? ": being taken back" : "");
  };
  const line = function (item) {
    const row = made("li", "reach-" + item.state, "");
    row.append(made("span", "", words(item)));
    if (item.state === "refused" && item.seen) {
      const fields = item.fields
        .filter(function (pair) {
          return pair[0] !== "seen";
        })
        .concat([["seen", String(item.seen)]]);
      row.append(
        pressable("Write mine down besides", function () {
          again(item, { fields: fields });
        }),
      );
    } else if (item.state === "refused") {
      row.append(
        pressable("Send it again", function () {
          again(item, {});
        }),
      );
    }
    if (!item.back)
      row.append(
        pressable(item.state === "refused" ? "Let it go" : "Take it back", function () {
          takeBack(item.id);
        }),
      );
    return row;
  };

  const stop = { "sign-in": "; sign in and they are sent.", other: "; somebody else is signed in on this phone now." };
  const sentence = function (place, waiting, refused, stopped) {
    const said = late.map(function (name) {
      return name + " was written down before it could be taken back: undo it there.";
    });
    if (place.dataset.out) said.push("Out of reach. " + place.dataset.out);
    if (waiting)
      said.push(
        (waiting === 1 ? "One thing is" : waiting + " things are") +
          " kept on this phone" +
          (stop[stopped] || ", and sent when there is a connection."),
      );
    if (refused) said.push((refused === 1 ? "One could" : refused + " could") + " not be written down:");
    return said.join(" ");
  };

  // stopped: "sign-in" or "other" where that is why nothing is sent, "" where nothing is; left out, as it was.
  const draw = async function (stopped) {
    if (stopped !== undefined) stoppedBy = stopped;
    const items = await presses.all();
    const place = document.getElementById("reach");
    const of = function (state) {
      return items.filter(function (item) {
        return item.state === state;
      });
    };
    const waiting = of("waiting"),
      refused = of("refused");
    document.querySelectorAll(".job-kept").forEach(function (job) {
      job.classList.remove("job-kept");
    });
    waiting.forEach(function (item) {
      item.marks.split(" ").forEach(function (id) {
        const job = id && document.getElementById(id);
        if (job) job.classList.add("job-kept");
      });
    });
    place.hidden = !items.length && !place.dataset.out && !late.length;
    // Drawn anew only where something changed: "Let it go" must not move under a thumb that means "Send it again".
    const signature = JSON.stringify([
      stoppedBy,
      place.dataset.out,
      late,
      items.map(function (item) {
        return [item.id, item.state, item.why, Boolean(item.back), item.seen];
      }),
    ]);
    if (place.dataset.drawn === signature) return;
    place.dataset.drawn = signature;
    const list = document.createElement("ul");
    list.append(...refused.concat(waiting).map(line));
    const said = made("p", "", sentence(place, waiting.length, refused.length, stoppedBy));
    if (stoppedBy === "sign-in") {
      const way = made("a", "", "Sign in");
      way.href = "/sign-in/?next=" + encodeURIComponent(location.pathname);
      said.append(" ", way);
    }
    place.replaceChildren(said, list);
  };

  window.elderWaiting = {
    draw: draw,
    tooLate: function (name) {
      late.push(name);
      sessionStorage.setItem(LATE, JSON.stringify(late)); // the page is drawn anew when all is sent
    },
  };
})();
