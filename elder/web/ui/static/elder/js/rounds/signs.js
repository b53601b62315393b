// A look: what the signs mean stands there as they are tapped, by the same table as the server's, with or without
// a connection; and the button says what it will write down.
(function () {
  const form = document.querySelector("form[data-signs]");
  const data = document.getElementById("look-rules");
  if (!form || !data) return;
  const known = JSON.parse(data.textContent);
  const place = document.getElementById("verdict-live");
  const resting = place.firstElementChild;

  const number = function (name) {
    return Number(form.elements[name].value) || 0;
  };
  const seen = function () {
    const signs = Array.from(form.querySelectorAll('[name="signs"]:checked')).map(function (box) {
      return box.value;
    });
    if (number("root_cm") > 0 && !signs.includes("root_length")) signs.push("root_length");
    return signs;
  };
  const stage = function () {
    const chosen = form.querySelector('[name="stage"]:checked') || form.querySelector('[name="stage"]');
    return chosen.value;
  };
  const found = function () {
    const facts = elderFindings.lengthFacts(number("root_cm"), known.length);
    return elderFindings.findings(seen(), facts, known.stages[stage()]);
  };

  const element = function (tag, className, text) {
    const made = document.createElement(tag);
    if (className) made.className = className;
    made.textContent = text;
    return made;
  };
  const shown = function (rule) {
    const block = element("div", "finding-live gravity-" + rule.gravity, "");
    block.dataset.code = rule.code;
    block.append(element("b", "", rule.cause + ". "));
    const when = known.urgency[rule.urgency];
    if (when) block.append(element("span", "finding-when", when), " ");
    block.append(element("span", "", rule.deed));
    if (rule.caution) block.append(element("span", "finding-caution", rule.caution));
    return block;
  };

  const button = form.querySelector("[data-signs-button]");
  const say = function () {
    const parts = [],
      signs = seen();
    if (number("rooted")) parts.push(number("rooted") + " rooted");
    if (number("lost")) parts.push(number("lost") + " lost");
    if (signs.length) parts.push(signs.length + (signs.length === 1 ? " sign" : " signs"));
    button.textContent = parts.length ? "Write down: " + parts.join(", ") : "As it should be: write it down";
    form.querySelector("[data-why]").hidden = !number("lost");
    const length = form.querySelector("[data-length]");
    length.hidden = !signs.includes("root_length") && !number("root_cm");
    const rules = found();
    place.replaceChildren(...(rules.length ? rules.map(shown) : [resting]));
    form.dataset.said = form.dataset.title + (parts.length ? ": " + parts.join(", ") : ": as it should be");
  };
  form.dataset.title = form.dataset.said;
  form.addEventListener("input", say);
  form.addEventListener("change", say);
  say();
})();
