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
    // What a page says stands in src/words, by screen.
    files: ["src/**/*.{ts,tsx}"],
    ignores: ["src/words/**", "src/**/*.test.*"],
    rules: {
      "no-restricted-syntax": [
        "error",
        ...["JSXText[value=/[A-Za-z]{3}/]", "JSXAttribute[name.name=/^(label|aria-label|title|placeholder)$/] Literal[value=/[A-Za-z]{3}/]:not(BinaryExpression > Literal)", "JSXAttribute[name.name=/^(label|aria-label|title|placeholder)$/] TemplateElement[value.raw=/[A-Za-z]{3}/]", "CallExpression[callee.name=/^(edit|editJob|change|onPart|onRest|onProblem|put)$/] > Literal[value=/[A-Za-z]{3} [a-z]/]", "CallExpression[callee.property.name=/^(edit|onPart|onRest|onProblem|setPick|addPick|onEdge|onPicks)$/] > Literal[value=/[A-Za-z]{3} [a-z]/]"].map((selector) => ({ selector, message: "The words of the interface stand in src/words, by screen." })),
      ],
    },
  },
  {
    files: ["src/**/*.tsx"],
    rules: {
      "jsx-a11y/no-autofocus": "off", // a field that somebody asked for, to rename a thing, has the focus when it comes
      "jsx-a11y/no-interactive-element-to-noninteractive-role": ["error", { canvas: ["application"] }],
    },
  },
);
