// Makes the round work out of reach: sets the worker up, keeps the round and the looks it leads to on this phone,
// and says when there is no connection. Signing out takes the kept pages away.
(function () {
  if (!("serviceWorker" in navigator) || !window.isSecureContext || !document.body.dataset.person) return;
  const PAGES = "elder-pages";
  const VERSIONS = "elder-kept";
  const AT_ONCE = 3, MOST = 80;
  document.addEventListener("submit", function (event) {
    if (!event.target.matches("[data-forget-drafts]")) return;
    caches.delete(PAGES);
    localStorage.removeItem(VERSIONS);
  });

  const round = document.querySelector("[data-round]");
  const looking = document.querySelector("form[data-signs]");
  if (!round && !looking) return;
  navigator.serviceWorker.register("/sw.js"); // by whoever opens a round, and nobody else

  const outOfReach = function () {
    const place = document.getElementById("reach");
    const drawn = new Date(Number(document.body.dataset.rendered) * 1000);
    place.dataset.out = "This page is as it was at " + drawn.toTimeString().slice(0, 5) + "; what you press is kept.";
    if (window.elderQueue) window.elderQueue.draw();
  };
  const inReach = function () {
    delete document.getElementById("reach").dataset.out;
    if (window.elderQueue) { window.elderQueue.draw(); window.elderQueue.drain(); }
  };
  window.addEventListener("offline", outOfReach);
  window.addEventListener("online", inReach);

  const keep = async function (cache, url) {
    const answer = await fetch(url, { headers: { "X-Elder-Keep": "1" } });
    if (answer.ok && !answer.redirected) await cache.put(url, answer);
  };
  // A look is fetched again only when something was written for its batch, or the day has changed.
  const keepAll = async function () {
    const cache = await caches.open(PAGES);
    const before = JSON.parse(localStorage.getItem(VERSIONS) || "{}"), now = {};
    const links = Array.from(document.querySelectorAll("a[data-keep]")).slice(0, MOST);
    const wanted = [];
    for (const link of links) {
      now[link.href] = link.dataset.keep;
      if (before[link.href] !== link.dataset.keep || !(await cache.match(link.href, { ignoreVary: true }))) wanted.push(link.href);
    }
    const next = async function () {
      const url = wanted.shift();
      if (!url) return;
      await keep(cache, url);
      await next();
    };
    try {
      await keep(cache, location.origin + location.pathname);
      await Promise.all(Array.from({ length: AT_ONCE }, next));
      if (round) localStorage.setItem(VERSIONS, JSON.stringify(now));
      document.body.dataset.kept = "1";
    } catch (error) {
      outOfReach();
    }
  };
  if (navigator.onLine) keepAll();
  else outOfReach();
})();
