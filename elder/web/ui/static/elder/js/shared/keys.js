// Letters go to rooms, / finds, arrows go from want to want, Escape back, ? lists the keys. Whoever switched letters
// off keeps arrows, Enter and Escape; nothing acts while one is typing (WCAG 2.1.4).
(function () {
  const typing = function (el) {
    return el.closest("input:not([type=range]), textarea, select, [contenteditable]");
  };
  const dialog = function () {
    return document.getElementById("keys");
  };
  const isOpen = function () {
    return document.querySelector("dialog[open]") !== null;
  };
  const letters = function () {
    return document.body.dataset.letters !== "off";
  };
  const find = function () {
    const box = document.getElementById("find");
    if (!box || !box.showModal) return false;
    box.showModal();
    document.getElementById("find-q").select();
    return true;
  };

  const list = function () {
    const dl = document.getElementById("keys-list");
    dl.querySelectorAll("[data-added]").forEach(function (row) {
      row.remove();
    });
    document.querySelectorAll("[data-key]").forEach(function (el) {
      const row = document.createElement("div");
      row.dataset.added = "";
      const key = document.createElement("dt");
      const kbd = document.createElement("kbd");
      kbd.textContent = el.dataset.key;
      key.append(kbd);
      const what = document.createElement("dd");
      what.textContent = el.textContent.trim();
      row.append(key, what);
      dl.append(row);
    });
    dialog().showModal();
  };

  const step = function (by, within) {
    const rows = Array.from((within || document).querySelectorAll("[data-row]"));
    if (!rows.length) return false;
    const at = rows.indexOf(document.activeElement);
    const next = at < 0 ? (by > 0 ? 0 : rows.length - 1) : Math.min(Math.max(at + by, 0), rows.length - 1);
    rows[next].focus();
    return true;
  };

  document.addEventListener("click", function (event) {
    if (event.target.closest("[data-open-keys]")) list();
    const asks = event.target.closest("[data-find]");
    if (asks && !event.ctrlKey && !event.metaKey && find()) event.preventDefault();
  });

  document.addEventListener("keydown", function (event) {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const found = document.querySelector("#find[open]");
    if (found && (event.key === "ArrowDown" || event.key === "ArrowUp")) {
      if (step(event.key === "ArrowDown" ? 1 : -1, found)) event.preventDefault();
      return;
    }
    if (isOpen()) return;
    if (typing(event.target)) {
      if (event.key === "Escape") event.target.blur();
      return;
    }
    if (event.key === "?" && letters()) {
      event.preventDefault();
      list();
      return;
    }
    if (event.target.type === "range") return;
    if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      if (step(event.key === "ArrowDown" ? 1 : -1)) event.preventDefault();
      return;
    }
    if (event.key === "Escape") {
      const back = document.querySelector("[data-back]");
      if (back) back.click();
      return;
    }
    if (!letters()) return;
    const go = document.querySelector('[data-key="' + CSS.escape(event.key) + '"]');
    if (go) {
      event.preventDefault();
      go.click();
    }
  });
})();
