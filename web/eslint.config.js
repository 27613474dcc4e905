import js from "@eslint/js";
import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

export default tseslint.config(
  { ignores: ["src/api/schema.d.ts"] },
  js.configs.recommended,
  ...tseslint.configs.strictTypeChecked,
  hooks.configs.flat.recommended,
  {
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      "max-lines": ["error", 300],
      "no-restricted-imports": [
        "error",
        { paths: [{ name: "@tanstack/react-query", importNames: ["useQueryClient"], message: "Say what changed with useChanges: api/changes.ts knows what that makes stale." }] },
      ],
      "@typescript-eslint/restrict-template-expressions": ["error", { allowNumber: true }],
      "@typescript-eslint/no-confusing-void-expression": ["error", { ignoreArrowShorthand: true }],
    },
  },
  { files: ["src/api/changes.ts"], rules: { "no-restricted-imports": "off" } },
);
