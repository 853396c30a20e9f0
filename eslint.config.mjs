// What the scripts must hold: no unused names, small functions, small modules.
import js from "@eslint/js";
import globals from "globals";

export default [
  { ignores: ["node_modules/**", ".venv/**", "adze/web/static/vendor/**", "adze/web/static/js/trace/constants.js"] },
  js.configs.recommended,
  {
    files: ["adze/web/static/js/**/*.js", "tests/js/**/*.js", "eslint.config.js"],
    languageOptions: { ecmaVersion: 2024, sourceType: "module", globals: { ...globals.browser, ...globals.node } },
    rules: {
      complexity: ["error", 12],
      "max-lines": ["error", 200],
      "max-lines-per-function": ["error", 50],
      "no-unused-vars": ["error", { caughtErrors: "none" }],
      "prefer-const": "error",
      eqeqeq: "error",
    },
  },
];
