// A look: what the signs mean stands there as they are tapped, by the same table as the server's, with or without
// a connection; and the button says what it will write down.
(function () {
  const form = document.querySelector("form[data-signs]");
  const data = document.getElementById("look-rules");
  if (!form || !data) return;
  const known = JSON.parse(data.textContent);
  const URGENCIES = ["now", "today", "week", "none"];
  const place = document.getElementById("verdict-live");
  const resting = place.firstElementChild;

  const number = function (name) { return Number(form.elements[name].value) || 0; };
  const seen = function () {
    const signs = Array.from(form.querySelectorAll('[name="signs"]:checked')).map(function (box) { return box.value; });
    if (number("root_cm") > 0 && !signs.includes("root_length")) signs.push("root_length");
    return signs;
  };
  const stage = function () {
    const chosen = form.querySelector('[name="stage"]:checked') || form.querySelector('[name="stage"]');
    return chosen.value;
  };
  const lengthFacts = function () {
    const cm = number("root_cm"), facts = [];
    if (known.length.wanted && cm >= known.length.wanted) facts.push("long_enough");
    if (known.length.wanted && cm > 0 && cm < known.length.wanted) facts.push("too_short");
    if (cm > known.length.long) facts.push("too_long");
    return facts;
  };
  const within = function (some, all) { return some.every(function (one) { return all.includes(one); }); };

  // As `findings` in the engine: what knows most takes the place of what knows less, the graver first.
  const findings = function () {
    const signs = seen(), facts = lengthFacts(), rules = known.stages[stage()];
    const holding = rules.filter(function (rule) {
      return rule.signs.length && within(rule.signs, signs) && within(rule.facts, facts)
        && !rule.without.some(function (sign) { return signs.includes(sign); });
    });
    holding.sort(function (a, b) { return b.knows[0] - a.knows[0] || b.knows[1] - a.knows[1]; });
    const kept = [];
    holding.forEach(function (rule) {
      if (!kept.some(function (other) { return within(rule.signs, other.signs); })) kept.push(rule);
    });
    kept.sort(function (a, b) { return b.gravity - a.gravity || URGENCIES.indexOf(a.urgency) - URGENCIES.indexOf(b.urgency); });
    return kept;
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
    const parts = [], signs = seen();
    if (number("rooted")) parts.push(number("rooted") + " rooted");
    if (number("lost")) parts.push(number("lost") + " lost");
    if (signs.length) parts.push(signs.length + (signs.length === 1 ? " sign" : " signs"));
    button.textContent = parts.length ? "Write down: " + parts.join(", ") : "As it should be: write it down";
    form.querySelector("[data-why]").hidden = !number("lost");
    const length = form.querySelector("[data-length]");
    length.hidden = !signs.includes("root_length") && !number("root_cm");
    const found = findings();
    place.replaceChildren(...(found.length ? found.map(shown) : [resting]));
    form.dataset.said = form.dataset.title + (parts.length ? ": " + parts.join(", ") : ": as it should be");
  };
  form.dataset.title = form.dataset.said;
  form.addEventListener("input", say);
  form.addEventListener("change", say);
  say();
})();

document.addEventListener("click", function (event) {
  if (event.target.closest("[data-print]")) window.print();
  if (event.target.closest("[data-history-back]")) { event.preventDefault(); history.back(); }
});
