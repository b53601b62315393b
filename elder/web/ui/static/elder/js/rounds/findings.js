// What the signs of a look mean, by the same table as the server's: which rules hold, and which takes another's place.
// As `findings` in elder/engine/round/verdicts.py; the cases that hold the two together are made by the engine.
(function (root, make) {
  if (typeof module === "object" && module.exports) module.exports = make();
  else root.elderFindings = make();
})(this, function () {
  const URGENCIES = ["now", "today", "week", "none"];

  const within = function (some, all) {
    return some.every(function (one) {
      return all.includes(one);
    });
  };

  // What a measured length says: `wanted` is the plant's own, `long` what is longer than it need be.
  const lengthFacts = function (cm, length) {
    const facts = [];
    if (length.wanted && cm >= length.wanted) facts.push("long_enough");
    if (length.wanted && cm > 0 && cm < length.wanted) facts.push("too_short");
    if (cm > length.long) facts.push("too_long");
    return facts;
  };

  const holds = function (rule, signs, facts) {
    if (!rule.signs.length || !within(rule.signs, signs) || !within(rule.facts, facts)) return false;
    return !rule.without.some(function (sign) {
      return signs.includes(sign);
    });
  };

  // What knows most takes the place of what knows less; then the graver first, then the more urgent.
  const findings = function (signs, facts, rules) {
    const holding = rules.filter(function (rule) {
      return holds(rule, signs, facts);
    });
    holding.sort(function (a, b) {
      return b.knows[0] - a.knows[0] || b.knows[1] - a.knows[1];
    });
    const kept = [];
    holding.forEach(function (rule) {
      const known = kept.some(function (other) {
        return within(rule.signs, other.signs);
      });
      if (!known) kept.push(rule);
    });
    kept.sort(function (a, b) {
      return b.gravity - a.gravity || URGENCIES.indexOf(a.urgency) - URGENCIES.indexOf(b.urgency);
    });
    return kept;
  };

  return { findings: findings, lengthFacts: lengthFacts };
});
