import js from "@eslint/js";
import a11y from "eslint-plugin-jsx-a11y";
import hooks from "eslint-plugin-react-hooks";
import ts from "typescript-eslint";

export default ts.config(
  { ignores: ["dist", "src/api/schema.gen.ts"] },
  js.configs.recommended,
  ...ts.configs.strict,
  { plugins: { "react-hooks": hooks }, rules: { "react-hooks/rules-of-hooks": "error", "react-hooks/exhaustive-deps": "error" } },
  {
    // What needs types to be told: a promise that nobody waits for loses its error.
    files: ["src/**/*.{ts,tsx}"],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      "@typescript-eslint/no-floating-promises": "error",
      "@typescript-eslint/no-misused-promises": "error",
      "@typescript-eslint/await-thenable": "error",
      "@typescript-eslint/no-unnecessary-type-assertion": "error",
      "@typescript-eslint/switch-exhaustiveness-check": ["error", { considerDefaultExhaustiveForUnions: true }],
    },
  },
  { files: ["src/**/*.tsx"], ...a11y.flatConfigs.recommended },
  {
    files: ["src/**/*.tsx"],
    rules: {
      "jsx-a11y/no-autofocus": "off", // a field that somebody asked for, to rename a thing, has the focus when it comes
      "jsx-a11y/no-interactive-element-to-noninteractive-role": ["error", { canvas: ["application"] }],
    },
  },
);
