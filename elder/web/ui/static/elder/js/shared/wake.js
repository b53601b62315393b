// Alpine's build for strict pages reads every global there is once, so as to refuse it later: a quarter of a second of
// a slow phone. So it comes when something it answers for is first touched, and not while the page comes up. What was
// typed, moved or pressed before it came is said again to it then. Only what it has to place or to hide (data-wake)
// has it at once.
(function () {
  const address = document.currentScript.dataset.alpine;
  const TOUCHES = ["pointerover", "pointerdown", "focusin", "keydown", "input", "change", "click"];
  const SAID_AGAIN = ["input", "change", "click"];
  const missed = [];
  let asked = false;

  const wake = function () {
    if (asked || !address) return;
    asked = true;
    const script = document.createElement("script");
    script.src = address;
    script.addEventListener("error", function () {
      asked = false; // the line was away: the next touch asks again
    });
    document.head.append(script);
  };

  const touched = function (event) {
    const target = event.target;
    if (!(target instanceof Element) || !target.closest("[x-data]")) return;
    wake();
    if (!SAID_AGAIN.includes(event.type)) return;
    if (!target.closest("[x-on\\:" + event.type + "], [\\@" + event.type + "]")) return;
    const same = missed.some(function (one) {
      return one.target === target && one.event.type === event.type;
    });
    if (!same) missed.push({ target: target, event: event });
  };

  TOUCHES.forEach(function (type) {
    document.addEventListener(type, touched, { capture: true, passive: true });
  });

  document.addEventListener("alpine:initialized", function () {
    TOUCHES.forEach(function (type) {
      document.removeEventListener(type, touched, { capture: true });
    });
    missed.forEach(function (one) {
      if (one.target.isConnected) one.target.dispatchEvent(new one.event.constructor(one.event.type, one.event));
    });
  });

  document.addEventListener("DOMContentLoaded", function () {
    if (document.querySelector("[data-wake]")) wake();
  });
})();
