// Makes the round work out of reach: sets the worker up, keeps the round and the looks it leads to on this phone,
// and says when there is no connection. Signing out takes the kept pages away.
(function () {
  if (!("serviceWorker" in navigator) || !window.isSecureContext || !document.body.dataset.person) return;
  const PAGES = "elder-pages";
  const AT_ONCE = 3, MOST = 80;
  navigator.serviceWorker.register("/sw.js");

  document.addEventListener("submit", function (event) {
    if (event.target.matches("[data-forget-drafts]")) caches.delete(PAGES);
  });

  const round = document.querySelector("[data-round]");
  const looking = document.querySelector("form[data-signs]");
  if (!round && !looking) return;

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
  const keepAll = async function () {
    const cache = await caches.open(PAGES);
    const links = Array.from(document.querySelectorAll("a[data-keep]")).map(function (link) { return link.href; });
    const urls = [location.origin + location.pathname].concat(Array.from(new Set(links)).slice(0, MOST));
    const next = async function () {
      const url = urls.shift();
      if (!url) return;
      await keep(cache, url);
      await next();
    };
    try {
      await next.call(null, await keep(cache, urls.shift()));
      await Promise.all(Array.from({ length: AT_ONCE }, next));
      document.body.dataset.kept = "1";
    } catch (error) {
      outOfReach();
    }
  };
  if (navigator.onLine) keepAll();
  else outOfReach();
})();
