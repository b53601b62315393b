// Light or dark before the first paint: the person's choice, else the device's.
(function () {
  const root = document.documentElement;
  root.classList.add("js");
  if (root.dataset.theme !== "system") return;
  const dark = window.matchMedia("(prefers-color-scheme: dark)");
  const follow = function () {
    root.dataset.bsTheme = dark.matches ? "dark" : "light";
  };
  dark.addEventListener("change", follow);
  follow();
})();
