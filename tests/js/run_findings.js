// Reads cases from standard input and says what the phone's own findings are for each: codes, and what a length says.
const fs = require("node:fs");
const path = require("node:path");

const { findings, lengthFacts } = require(
  path.join(__dirname, "../../elder/web/ui/static/elder/js/rounds/findings.js"),
);

const given = JSON.parse(fs.readFileSync(0, "utf8"));
const code = (rule) => rule.code;
const answers = {
  findings: given.findings.map((one) => findings(one.signs, one.facts, given.rules[one.rules]).map(code)),
  lengths: given.lengths.map((one) => lengthFacts(one.cm, one)),
};
process.stdout.write(JSON.stringify(answers));
