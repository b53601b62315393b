import js from "@eslint/js";
import globals from "globals";

export default [
  {
    ignores: [
      "**/vendor/**",
      "node_modules/**",
      ".venv/**",
      "staticfiles/**",
      "var/**",
      "elder/web/rounds/templates/**",
    ],
  },
  js.configs.recommended,
  {
    files: ["elder/web/ui/static/elder/js/**/*.js"],
    languageOptions: {
      ecmaVersion: 2020,
      sourceType: "script",
      globals: { ...globals.browser, Alpine: "readonly", elderFindings: "readonly", module: "readonly" },
    },
    rules: { eqeqeq: "error", "no-var": "error", "prefer-const": "error", "max-len": ["error", { code: 120 }] },
  },
  {
    files: ["tests/js/**/*.js"],
    languageOptions: { ecmaVersion: 2020, sourceType: "commonjs", globals: globals.node },
  },
];
