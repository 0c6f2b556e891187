// The scripts of the pages: what no browser or reader should meet. `npx eslint src/web/static/js`.
import js from "@eslint/js";
import globals from "globals";

export default [
  js.configs.recommended,
  {
    files: ["src/web/static/js/**/*.js"],
    languageOptions: {
      sourceType: "module",
      globals: { ...globals.browser, htmx: "readonly", bootstrap: "readonly" },
    },
    rules: { eqeqeq: "error", "no-unused-vars": "error", "prefer-const": "error", "no-var": "error" },
  },
];
