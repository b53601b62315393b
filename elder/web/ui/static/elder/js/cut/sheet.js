// The cut sheet and its neighbours: the answer follows what is chosen; steps are ticked off on this phone; the
// half-hour runs on through a reload.
document.addEventListener("alpine:init", function () {
  const asks = function (name, targets, after) {
    window.Alpine.data(name, function () {
      const asking = window.elderAsking(function (component) {
        const here = document.activeElement;
        const back = function () {
          if (after) after();
          if (here && here.type === "radio") putBack(here.name, here.value);
        };
        return { body: new FormData(component.$root), targets: targets, after: back };
      });
      asking.changed = function (event) {
        if (!event.target.matches("[data-tick]")) this.ask();
      };
      return asking;
    });
  };
  asks("sheet", ["sheet-steps", "sheet-pictures", "sheet-chosen", "sheet-count"], function () {
    showTicks();
    showTimers();
  });
  asks("can", ["can-answer"]);
  asks("dilution", ["hormone-answer"]);
  asks("feeding", ["feed-answer"]);
});

// A school that was chosen stays in sight and in reach of the keyboard when its step is drawn anew.
const putBack = function (name, value) {
  const same = Array.from(document.getElementsByName(name)).find(function (one) {
    return one.type === "radio" && one.value === value;
  });
  if (!same || same === document.activeElement) return;
  const folded = same.closest("details");
  if (folded) folded.open = true;
  same.focus({ preventScroll: true });
};

const TICKS = "elder-ticks:" + location.pathname;
const ticked = function () {
  return JSON.parse(sessionStorage.getItem(TICKS) || "[]");
};
const showTicks = function () {
  const done = ticked();
  document.querySelectorAll("[data-tick]").forEach(function (box) {
    box.checked = done.includes(box.dataset.tick);
    box.closest(".step").classList.toggle("step-done", box.checked);
  });
};
document.addEventListener(
  "change",
  function (event) {
    const box = event.target.closest("[data-tick]");
    if (!box) return;
    const others = ticked().filter(function (key) {
      return key !== box.dataset.tick;
    });
    sessionStorage.setItem(TICKS, JSON.stringify(box.checked ? others.concat(box.dataset.tick) : others));
    showTicks();
  },
  true,
);

const timerKey = function (timer) {
  return "elder-timer:" + timer.dataset.timerKey;
};
const showTimers = function () {
  document.querySelectorAll("[data-timer]").forEach(function (timer) {
    const end = Number(localStorage.getItem(timerKey(timer)) || 0);
    const said = timer.querySelector("[data-timer-said]");
    if (!end) {
      said.textContent = "";
      return;
    }
    const left = Math.ceil((end - Date.now()) / 60000);
    const words =
      left > 0
        ? left + (left === 1 ? " minute" : " minutes") + " to go: stick them then."
        : "They have dried: stick them now.";
    if (said.textContent !== words) said.textContent = words;
    timer.classList.toggle("timer-over", left <= 0);
  });
};
document.addEventListener("click", function (event) {
  const go = event.target.closest("[data-timer-go]");
  if (!go) return;
  const timer = go.closest("[data-timer]");
  localStorage.setItem(timerKey(timer), String(Date.now() + Number(timer.dataset.timer) * 60000));
  showTimers();
});
showTicks();
showTimers();
setInterval(showTimers, 5000);
