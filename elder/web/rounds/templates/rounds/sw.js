// The round and its looks, kept on this phone: pages that were opened come from the network while there is one,
// and from here when there is none. Nothing that is sent passes through here: see queue.js.
const SHELL = "elder-shell-{{ version }}";
const PAGES = "elder-pages-"; // and then whose they are; shared/whose.js keeps only one person's
const FILES = [{% for url in shell %}"{{ url }}"{% if not forloop.last %}, {% endif %}{% endfor %}];
const LOST = "{% url 'out-of-reach' %}";
const ROUND = /^\/g\/\d+\/round\/(look\/\d+\/)?$/;

self.addEventListener("install", function (event) {
  event.waitUntil(caches.open(SHELL).then(function (cache) { return cache.addAll(FILES.concat(LOST)); }).then(function () { return self.skipWaiting(); }));
});

self.addEventListener("activate", function (event) {
  event.waitUntil(caches.keys().then(function (names) {
    const old = names.filter(function (name) { return name.startsWith("elder-shell-") && name !== SHELL; });
    // Pages kept under an older Elder ask for files that are gone with it.
    if (old.length) old.push(...names.filter(function (name) { return name.startsWith("elder-pages"); }));
    return Promise.all(old.map(function (name) { return caches.delete(name); }));
  }).then(function () { return self.clients.claim(); }));
});

const lost = function () { return caches.match(LOST); };

const keptPages = async function () {
  return (await caches.keys()).filter(function (name) { return name.startsWith(PAGES); });
};

const page = async function (request) {
  try {
    const answer = await fetch(request);
    // The session has ended: what was kept in it is nobody's to read. (A navigation's own redirect is the browser's.)
    if (answer.type === "opaqueredirect" || answer.redirected) await Promise.all((await keptPages()).map(function (name) { return caches.delete(name); }));
    return answer;
  } catch (error) {
    for (const name of await keptPages()) {
      const kept = await (await caches.open(name)).match(request.url, { ignoreSearch: true, ignoreVary: true });
      if (kept) return kept;
    }
    return lost();
  }
};

const file = async function (request) {
  const kept = await (await caches.open(SHELL)).match(request, { ignoreVary: true });
  return kept || fetch(request);
};

self.addEventListener("fetch", function (event) {
  const request = event.request;
  const url = new URL(request.url);
  if (request.method !== "GET" || url.origin !== self.location.origin) return;
  if (FILES.includes(url.pathname)) event.respondWith(file(request));
  else if (request.mode === "navigate" && ROUND.test(url.pathname)) event.respondWith(page(request));
  else if (request.mode === "navigate") event.respondWith(fetch(request).catch(lost));
});
