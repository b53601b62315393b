// Makes the round work out of reach: sets the worker up, keeps the round and the looks it leads to on this phone,
// and says when there is no connection.
(function () {
  if (!("serviceWorker" in navigator) || !window.isSecureContext || !document.body.dataset.person) return;
  const PAGES = window.elderKept.pages;
  const VERSIONS = window.elderKept.versions;
  const A_HANDFUL = 6,
    MOST = 80;
  const round = document.querySelector("[data-round]");
  const looking = document.querySelector("form[data-signs]");
  if (!round && !looking) return;
  navigator.serviceWorker.register("/sw.js"); // by whoever opens a round, and nobody else

  const outOfReach = function () {
    const place = document.getElementById("reach");
    const drawn = new Date(Number(document.body.dataset.rendered) * 1000);
    place.dataset.out = "This page is as it was at " + drawn.toTimeString().slice(0, 5) + "; what you press is kept.";
    if (window.elderWaiting) window.elderWaiting.draw();
  };
  const inReach = function () {
    delete document.getElementById("reach").dataset.out;
    if (window.elderQueue) window.elderQueue.drain();
  };
  window.addEventListener("offline", outOfReach);
  window.addEventListener("online", inReach);

  // The page itself was fetched a moment ago, and the browser still has it; but for one that has just said what was
  // done, which is to be read once.
  const here = location.origin + location.pathname;
  const saidOnce = location.search || document.querySelector("main > .said");
  const keep = async function (cache, url) {
    const asked = url === here && !saidOnce ? { cache: "force-cache" } : { headers: { "X-Elder-Keep": "1" } };
    const answer = await fetch(url, asked);
    if (answer.ok && !answer.redirected) await cache.put(url, answer);
  };
  // Looks are alike: a handful in one answer is hardly longer than one of them. Each is kept as its own page would be,
  // under the same policy.
  const keepLooks = async function (cache, urls) {
    const numbers = urls.map(function (url) {
      return url.split("/").slice(-2)[0];
    });
    const answer = await fetch(round.dataset.looks + "?of=" + numbers.join(","), { headers: { "X-Elder-Keep": "1" } });
    if (!answer.ok || answer.redirected) return;
    const headers = new Headers(answer.headers);
    ["content-encoding", "content-length"].forEach(headers.delete, headers);
    headers.set("content-type", "text/html; charset=utf-8");
    for (const [path, text] of Object.entries((await answer.json()).looks))
      await cache.put(location.origin + path, new Response(text, { headers: headers }));
  };
  // A page is fetched again only when something was written that it shows, or the day has changed.
  const keepAll = async function () {
    const cache = await caches.open(PAGES);
    const before = JSON.parse(localStorage.getItem(VERSIONS) || "{}"),
      now = {};
    const links = Array.from(document.querySelectorAll("a[data-keep]")).slice(0, MOST);
    const pages = links.map(function (link) {
      return [link.href, link.dataset.keep];
    });
    pages.unshift([here, round ? round.dataset.round : ""]);
    const wanted = [];
    for (const [url, version] of pages) {
      now[url] = version;
      if (!version || before[url] !== version || !(await cache.match(url, { ignoreVary: true }))) wanted.push(url);
    }
    const looks = wanted.filter(function (url) {
      return url !== here;
    });
    try {
      await fetch("/sw.js", { method: "HEAD", cache: "no-store" }); // a phone may think it is in reach and not be
      if (wanted.length > looks.length) await keep(cache, here);
      while (looks.length) await keepLooks(cache, looks.splice(0, A_HANDFUL));
      if (round) localStorage.setItem(VERSIONS, JSON.stringify(now));
      document.body.dataset.kept = "1";
    } catch {
      outOfReach();
    }
  };
  if (navigator.onLine) keepAll();
  else outOfReach();
})();
