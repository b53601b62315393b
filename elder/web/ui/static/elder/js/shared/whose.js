// Pages kept on a phone are one person's: they go when somebody else has signed in, or nobody is.
(function () {
  const person = document.body.dataset.person || "";
  const PAGES = "elder-pages-",
    VERSIONS = "elder-kept-";
  window.elderKept = {
    pages: PAGES + person,
    versions: VERSIONS + person,
    // All that is kept for others; for everybody, where told so.
    forget: function (everybody) {
      Object.keys(localStorage).forEach(function (key) {
        if (key.startsWith(VERSIONS) && (everybody || key !== VERSIONS + person)) localStorage.removeItem(key);
      });
      if (!window.caches) return Promise.resolve();
      return caches.keys().then(function (names) {
        return Promise.all(
          names
            .filter(function (name) {
              return name.startsWith(PAGES) && (everybody || name !== PAGES + person);
            })
            .map(function (name) {
              return caches.delete(name);
            }),
        );
      });
    },
  };
  window.elderKept.forget(!person);
})();
