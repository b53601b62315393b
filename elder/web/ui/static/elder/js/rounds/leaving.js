// Signing out takes off this phone what was kept on it. What still waits to be sent is sent first; where it cannot be,
// that is said, and a second press lets it go.
(function () {
  const presses = window.elderPresses;
  const PATIENCE_MS = 6000;
  let warned = false;

  const waiting = async function () {
    const done = window.elderQueue.drain();
    await Promise.race([
      done,
      new Promise(function (resolve) {
        setTimeout(resolve, PATIENCE_MS);
      }),
    ]);
    return (await presses.all()).length;
  };
  const warn = function (left) {
    const place = document.getElementById("reach");
    const said = document.createElement("p");
    said.textContent =
      (left === 1 ? "One thing is" : left + " things are") +
      " not written down yet and would be lost. Press Sign out again to let " +
      (left === 1 ? "it" : "them") +
      " go, or stay until there is a connection.";
    place.hidden = false;
    place.prepend(said);
    place.scrollIntoView({ block: "nearest" });
  };

  document.addEventListener("submit", async function (event) {
    const form = event.target;
    if (!form.matches("[data-forget-drafts]") || !presses) return;
    event.preventDefault();
    try {
      const left = warned ? 0 : await waiting();
      if (left) {
        warned = true;
        warn(left);
        return;
      }
      await window.elderKept.forget(true);
      presses.forgetAll();
    } catch {
      // A browser that keeps nothing has nothing to forget.
    }
    form.submit();
  });
})();
