// Typing outlives an error page and a signed-out session. Each form named by data-draft keeps a copy in
// this tab until the server says that it is kept (data-saved), or the person signs out.
(function () {
  const PREFIX = "elder-draft:";
  const SKIP = ["csrfmiddlewaretoken"];
  const person = document.body.dataset.person;
  const owner = person || sessionStorage.getItem("elder-person") || "";
  if (person) sessionStorage.setItem("elder-person", person);

  const keyOf = function (form) {
    return (
      PREFIX +
      owner +
      ":" +
      // With what the address asks for: typing begun for another plant is another draft.
      location.pathname.replace(/\/(note|harvest|move\/[a-z-]+)\/$/, "/") +
      location.search +
      ":" +
      form.dataset.draft
    );
  };
  const forgetAll = function (test) {
    Object.keys(sessionStorage)
      .filter(function (key) {
        return key.startsWith(PREFIX) && test(key);
      })
      .forEach(function (key) {
        sessionStorage.removeItem(key);
      });
  };

  const remember = function (form) {
    const kept = [];
    new FormData(form).forEach(function (value, name) {
      if (typeof value === "string" && !SKIP.includes(name) && !form.elements[name].type?.startsWith("password"))
        kept.push([name, value]);
    });
    sessionStorage.setItem(keyOf(form), JSON.stringify(kept));
  };

  const restore = function (form) {
    const kept = sessionStorage.getItem(keyOf(form));
    // A form that came back from the server with its errors already holds what was typed.
    if (!kept || form.querySelector(".is-invalid, .wrong")) return;
    JSON.parse(kept).forEach(function (pair) {
      const field = form.elements[pair[0]];
      // What the address asks for is marked so, and wins over what was typed another time.
      if (!field || (field.dataset && "asked" in field.dataset)) return;
      if (field instanceof RadioNodeList) {
        field.forEach(function (one) {
          if (one.value === pair[1]) one.checked = true;
        });
      } else if (field.type === "checkbox") field.checked = true;
      else field.value = pair[1];
    });
    form.querySelectorAll("details").forEach(function (more) {
      more.open = true;
    });
    form.dispatchEvent(new Event("input", { bubbles: true }));
  };

  document.querySelectorAll("[data-saved]").forEach(function (said) {
    forgetAll(function (key) {
      return key.endsWith(":" + said.dataset.saved);
    });
  });
  const forms = document.querySelectorAll("form[data-draft]");
  forms.forEach(restore);
  document.addEventListener("input", function (event) {
    const form = event.target.closest("form[data-draft]");
    if (form && event.isTrusted !== false) remember(form);
    else if (form && event.target !== form) remember(form);
  });
  // Going back without keeping leaves nothing behind.
  document.addEventListener("click", function (event) {
    if (event.target.closest && event.target.closest("a[data-forget]"))
      forms.forEach(function (form) {
        sessionStorage.removeItem(keyOf(form));
      });
  });
  document.addEventListener("submit", function (event) {
    if (event.target.matches("[data-forget-drafts]")) {
      forgetAll(function () {
        return true;
      });
      sessionStorage.removeItem("elder-person");
    } else if (event.target.matches("form[data-draft]")) remember(event.target);
  });
})();
